# frozen_string_literal: true

module Loomshuttle
  module Lineup
    # Every lane that a role or a mix of roles is laid on, with where it should be heard and what was found.
    #
    #   Lines.of(show, State.new).first   # => {lane: "rec/lane-out/29", number: 29, carries: "organ", ...}
    module Lines
      module_function

      # @return [Array<Hash>] plain data, by device and number
      def of(show, state)
        Endpoint.sorted(lanes(show)).map do |lane|
          tick = state.tick(show, lane)
          {lane: lane, number: Endpoint.number(lane), device: show.rig.place(lane).device.name, carries: carried(show, lane), private: private?(show, lane),
           arrives: arrives(show, lane), heard: Signal::Reach.listeners(show, lane).map(&:name), tick: tick&.to_h&.slice(:right, :who, :where)}
        end
      end

      # What a show lays there, and what a song has there of its own.
      def lanes(show)
        laid = show.patch.slots.select { |slot, pick| slot.include?("/lane-out/") && pick.from.start_with?("songs/") }.keys
        (laid + show.set_list.values.flat_map { |listed| listed.roles.values.flat_map { |terms| terms.lanes.to_a } }).uniq.select { |id| show.rig.present?(id) }
      end

      def sources(show, lane) = show.graph.to(lane).map(&:from).select { |id| id.start_with?("songs/") }
      def carried(show, lane) = Words::Runs.names(sources(show, lane).map { |id| show.mixes[Endpoint.number(id).to_s]&.name || Endpoint.number(id).to_s })

      def private?(show, lane)
        roles = sources(show, lane).flat_map { |id| id.start_with?("songs/mix/") ? show.mixes[Endpoint.number(id).to_s]&.roles.to_a : [Endpoint.number(id).to_s] }
        roles.any? { |name| show.roles[name]&.private? }
      end

      # The channels in which it should show.
      def arrives(show, lane)
        channels = show.graph.onward(lane).map(&:to).select { |id| show.rig.kind_of(id) == "channel" }.uniq
        channels.empty? ? nil : Words::Runs.capital(Words::Runs.channels(show, channels))
      end
      private_class_method :sources, :carried, :private?, :arrives
    end
  end
end
