# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Lays tracks that have no way back on return lanes: each on the lane of its own number where that is free, else on
    # the first that is.
    #
    #   LayReturns.missing(show)   # => [track, ...]
    #   LayReturns.of(show)        # => [Edits::Connect, ...], or a Refusal where there are too few lanes
    module LayReturns
      module_function

      # @return [Array<Capture::Track>] whose source has a channel, and which come back to no desk
      def missing(show)
        rows = Signal::Sources.channels(show).values.to_set
        show.tracks.values.select { |track| rows.include?(track.row) && Signal::Returns.slot(show, track.place).nil? }
      end

      # @param tracks [Array<Capture::Track>]
      # @return [Array<Edits::Connect>, Refusal]
      def of(show, tracks = missing(show))
        free = free(show, tracks)
        own, others = tracks.partition { |track| free.delete(own(track)) }
        return refusal(others.size - free.size) if free.size < others.size

        [*own.map { |track| [own(track), track] }, *free.zip(others).first(others.size)].map { |lane, track| Edits::Connect.new(slot: lane, from: track.place) }
      end

      def own(track) = Endpoint.parse(track.place).then { |place| Endpoint.id(place.device, "lane-out", place.number) }

      # Lanes of these tracks' recorders on which nothing is laid and which arrive at a desk.
      def free(show, tracks)
        lanes = tracks.map(&:recorder).uniq.flat_map { |id| show.places(show.rig.devices[id], "lane-out") }
        lanes.reject { |lane| show.patch.slots.key?(lane) || show.graph.fixed_onward(lane).none? { |id| id.include?("/card-return/") } }
      end

      def refusal(count)
        Refusal.new(field: "lanes", value: count, allowed: "as many free return lanes as tracks", why: "#{Words::Runs.count(count, "more return lane")} would be needed: roles, mixes or other tracks are on all that arrive at the desk.")
      end
      private_class_method :own, :free, :refusal
    end
  end
end
