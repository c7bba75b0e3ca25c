# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # What a swing will do, before it is done.
    #
    # changes  [{slot:, from:, to:}] every slot that will take something else
    # proved   true when the plan and then its inverse give back the very same patch
    SwingPlan = Value.of(:to, :edits, :changes, :stays, :proved) do
      # Applies the edits and their inverse to find what they change and whether they can
      # be turned back.
      #
      # @return [SwingPlan, Refusal]
      def self.prove(show, to:, edits:)
        group = Edits::Group.new(edits: edits)
        turned = group.apply(show)
        return turned if turned.is_a?(Refusal)

        back = Edits::Put.between(turned, show).apply(turned)
        new(to: to, edits: edits, changes: changes(show, turned), stays: turned.swung.keep,
          proved: back.is_a?(Show) && back.patch == show.patch && back.swung == show.swung)
      end

      def self.changes(before, after)
        slots = (before.patch.slots.keys | after.patch.slots.keys).reject { |id| before.patch.slots[id] == after.patch.slots[id] }
        slots.map { |id| {slot: id, from: before.patch.slots[id]&.from, to: after.patch.slots[id]&.from} }
      end
      private_class_method :changes

      def edit = Edits::Group.new(edits: edits)
      def to_data = {to: to, changes: changes, stays: stays, proved: proved}
    end
  end
end
