# frozen_string_literal: true

module Loomshuttle
  module Signal
    # How what a recorder or a player plays comes back: over which of its lanes, and where that
    # arrives at a desk.
    #
    #   Returns.slot(show, "rec/track/9")            # => "rec/lane-out/9"
    #   Returns.at_desk(show, "rec/track/9", "desk")  # => "desk/card-return/9"
    module Returns
      module_function

      # @param source [String] a track's place, or a role
      # @return [String, nil] the first lane out that takes it, or that of the track beside which it comes back
      def slot(show, source) = slots(show)[source]&.first || beside(show)[source]&.then { |track| slots(show)[track.place].first }

      # Tracks that have no lane of their own: they are summed onto another's, on purpose.
      #
      # @return [Hash{String => Capture::Track}] place => the track whose lane it is
      def beside(show)
        show.once(:beside) do
          show.tracks.values.filter_map do |track|
            other = track.beside && show.tracks[track.beside]
            [track.place, other] if other && !slots(show).key?(track.place) && slots(show).key?(other.place)
          end.to_h.freeze
        end
      end

      # @param track [Capture::Track]
      # @return [Float, nil] what it is played at where several are on its lane; nil where it has one for itself
      def sum_db(show, track)
        return track.sum_db if beside(show).key?(track.place)

        place, = beside(show).find { |_, other| other.id == track.id }
        place && show.track_at(place).sum_db
      end

      # @return [Array<Integer>] numbers of all lanes out that take it, on one device
      def lanes(show, source)
        own_slots(show, source).map { |id| Endpoint.number(id) }
      end

      # @return [Array<String>] those lanes out
      def own_slots(show, source)
        all = slots(show).fetch(source, [])
        all.select { |id| Endpoint.parse(id).device == Endpoint.parse(all.first).device }
      end

      # @return [Integer, nil] that lane's number
      def lane(show, source) = slot(show, source)&.then { |id| Endpoint.number(id) }

      # @return [String, nil] the desk's lane on which it arrives
      def at_desk(show, source, desk_id)
        slots(show).fetch(source, []).each do |slot|
          found = show.graph.fixed_onward(slot).find { |id| id.start_with?("#{desk_id}/") }
          return found if found
        end
        nil
      end

      # Where one track can be heard alone: an odd lane out of the recorder and the next on which nothing is laid and which no
      # audience can hear, at a desk before elsewhere.
      #
      # @return [Array<Integer>, nil] their numbers
      def free_pair(show)
        recorder = Recorder.of(show) or return nil
        pairs = show.places(show.rig.devices[recorder], "lane-out").each_slice(2).select { |pair| pair.size == 2 && pair.all? { |lane| free?(show, lane) } }
        (pairs.find { |pair| pair.all? { |lane| at_any_desk?(show, lane) } } || pairs.first)&.map { |lane| Endpoint.number(lane) }
      end

      def at_any_desk?(show, slot) = show.graph.fixed_onward(slot).any? { |id| show.rig.kind_of(id) == "lane" && show.rig.device_of(id).profile.kind == "desk" }

      def free?(show, lane) = !show.patch.slots.key?(lane) && Reach.listeners(show, lane).none? { |listener| listener.profile.audience == "audience" }

      # @return [Hash{String => Array<String>}] source => lanes out that take it, by number
      def slots(show)
        show.once(:returning) do
          out = show.patch.slots.filter_map { |slot, pick| [slot, pick.from, Endpoint.parse(slot)] if slot.include?("/lane-out/") }
          out.sort_by { |_, _, place| [place.device, place.number] }.group_by { |_, from, _| from }.transform_values { |all| all.map(&:first).freeze }.freeze
        end
      end
      private_class_method :free?, :slots
    end
  end
end
