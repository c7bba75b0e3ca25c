# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Finds what a slot must take so that a place's signal arrives there: the place itself,
    # or the lane on which fixed wires and cables bring it to the slot's device.
    #
    #   Route.into(show, "box-a/mic/9", "desk/channel/9")  # => "desk/aes50-a-in/9"
    module Route
      module_function

      # @return [String, nil] an endpoint that the slot's field takes, nil when none is fed
      def into(show, from_id, slot_id)
        field = show.rig.field_of(slot_id) or return nil
        slot = Endpoint.parse(slot_id)
        candidates(show, from_id).find { |id| takable?(field, slot, id) }
      end

      # The nearest place that the slot may take to which a signal from here comes by way of the
      # patch as it is: the output that a mix leaves by, the recorder's lane on which a row arrives.
      #
      # @return [String, nil]
      def passing(show, from_id, slot_id)
        field = show.rig.field_of(slot_id) or return nil
        slot = Endpoint.parse(slot_id)
        passed = Set[from_id]
        queue = [from_id]
        while (place = queue.shift)
          # Behind a mix it is one of many, behind a track it is what was recorded.
          show.graph.from(place).each { |edge| queue << edge.to if edge.kind != :send && !show.graph.track?(place) && passed.add?(edge.to) }
          found = queue.find { |id| id != slot_id && takable?(field, slot, id) }
          return found if found
        end
        nil
      end

      # What a place is called by whoever plugs in: "Box A socket 9" says more than "AES50 A lane 9".
      def words(show, id) = show.rig.label(Wiring.of(show.rig, show.sample_rate_hz).socket_behind(id))

      # The place, a channel's own socket, and all places that either reaches through joins
      # that no patch changes.
      def candidates(show, from_id)
        own = show.patch.slots[from_id]&.from if show.rig.family_of(from_id)&.kind == "channel"
        starts = [from_id, own].compact
        starts.flat_map { |id| [id, *show.graph.fixed_onward(id)] }.uniq
      end

      def takable?(field, slot, id)
        source = Endpoint.parse(id)
        return source.family == "out-socket" if field.takes?("*")

        return field.takes?("role") if source.device == "songs"

        field.takes?(source.family) && source.device == slot.device
      end
      private_class_method :candidates
    end
  end
end
