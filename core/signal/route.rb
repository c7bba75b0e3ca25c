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

        field.takes?(source.family) && (source.device == slot.device || source.device == "songs")
      end
      private_class_method :candidates
    end
  end
end
