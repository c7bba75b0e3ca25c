# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A slot takes a socket that this model does not have: a compact body names in its
    # patch what is not on its back.
    module NoSocket
      module_function

      def findings(show)
        missing(show).group_by { |slot, _| Patch::Block.first_or_self(show, slot) }.map { |_, pairs| finding(show, pairs) }
      end

      def missing(show)
        show.patch.slots.reject { |_, take| show.rig.place(take.from).then { |place| place.nil? || place.present? } }.to_a
      end

      def finding(show, pairs)
        slots, takes = pairs.transpose
        froms = takes.map(&:from)
        family = show.rig.family_of(froms.first)
        Finding.new(rule: "no-socket", severity: "warn", step: "patch",
          title: "#{family.label.capitalize} #{Words::Runs.of(froms)} #{(froms.size == 1) ? "is" : "are"} not on this model",
          what: "#{show.label(slots.first).sub(/ \d+\z/, "").capitalize} #{Words::Runs.of(slots)} #{(slots.size == 1) ? "takes" : "take"} " \
                "#{family.label} #{Words::Runs.of(froms)}, but this model ends at #{family.there}.",
          why: "Nothing can ever be plugged in there, so these stay silent.", endpoints: slots,
          mend: Mend.new(label: "Mend: clear #{Words::Runs.of(slots)}", edits: [Edits::Clear.new(slot: slots.first)]))
      end
      private_class_method :missing, :finding
    end
  end
end
