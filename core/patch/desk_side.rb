# frozen_string_literal: true

module Loomshuttle
  module Patch
    # The part of a patch that desks hold: their own slots and sends, and the sockets of boxes
    # that they command. What a computer or a listener takes is not the desk's business, and
    # where microphones are plugged is the stage's.
    module DeskSide
      KINDS = %w[desk box].freeze
      private_constant :KINDS

      module_function

      # @param place [String] an endpoint, or a desk that is switched as a whole
      def has?(show, place) = KINDS.include?((show.rig.devices[place] || show.rig.device_of(place))&.profile&.kind)

      # @return [Scene] one patch with the desk side of another
      def over(show, patch, other)
        kept, taken = part(show, patch, false), part(show, other, true)
        patch.with(slots: kept[:slots].merge(taken[:slots]).freeze, sends: kept[:sends].merge(taken[:sends]).freeze,
          turned: (kept[:turned] | taken[:turned]).freeze, powered: (kept[:powered] | taken[:powered]).freeze)
      end

      # What of a patch is on the desk's side, or (side false) is not.
      def part(show, patch, side)
        {slots: patch.slots.select { |slot, _| has?(show, slot) == side },
         sends: patch.sends.select { |from, _| has?(show, from) == side },
         turned: patch.turned.select { |place| has?(show, place) == side }.to_set,
         powered: patch.powered.select { |socket| has?(show, socket) == side }.to_set}
      end
      private_class_method :part
    end
  end
end
