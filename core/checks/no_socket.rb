# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A slot takes a socket that this model does not have, or is one itself: a compact body names
    # in its patch what is not on its back.
    module NoSocket
      module_function

      def findings(show)
        missing(show).group_by { |slot, id| [Patch::Block.first_or_self(show, slot), slot == id] }.map { |_, pairs| finding(show, pairs) }
      end

      # @return [Array<Array(String, String)>] slot, and the place that is not there
      def missing(show)
        absent = show.rig.once(:absent) { show.rig.places.each_value.reject(&:present?).to_set(&:id) }
        return [] if absent.empty?

        show.patch.slots.filter_map { |slot, pick| [pick.from, slot].find { |id| absent.include?(id) }&.then { |id| [slot, id] } }.sort
      end

      def finding(show, pairs)
        slots, froms = pairs.transpose
        return without_socket(show, slots) if slots == froms

        family = show.rig.family_of(froms.first)
        Finding.new(rule: "no-socket", severity: "warn", step: "patch",
          title: "#{Words::Runs.capital(family.label)} #{Words::Runs.of(froms)} #{(froms.size == 1) ? "is" : "are"} not on this model",
          what: "#{Words::Runs.capital(Words::Runs.places(show, slots))} #{(slots.size == 1) ? "takes" : "take"} " \
                "#{family.label} #{Words::Runs.of(froms)}, but this model ends at #{family.there}.",
          why: "Nothing can ever be plugged in there, so these stay silent.", endpoints: slots,
          mend: Mend.new(label: "Mend: clear #{Words::Runs.of(slots)}", edits: slots.map { |slot| Edits::Clear.new(slot: slot) }.uniq { |edit| Patch::Block.first_or_self(show, edit.slot) }))
      end

      def without_socket(show, slots)
        family = show.rig.family_of(slots.first)
        carried = slots.map { |slot| show.label(show.patch.slots[slot].from) }
        Finding.new(rule: "no-socket", severity: "stop", step: (family.name == "out-socket") ? "outputs" : "patch", variant: "slot",
          title: "#{Words::Runs.capital(family.label)} #{Words::Runs.of(slots)} #{(slots.size == 1) ? "is" : "are"} not on this model",
          what: "#{Words::Runs.names(carried)} #{(slots.size == 1) ? "is" : "are"} laid to #{Words::Runs.places(show, slots)}, but this model ends at #{family.there}.",
          why: "It leaves the desk nowhere: whoever waits for it hears nothing.", endpoints: slots, about: carried_ids(show, slots),
          mend: Mend.new(label: "Mend: take #{(slots.size == 1) ? "it" : "them"} off", edits: slots.map { |slot| Edits::Clear.new(slot: slot) }))
      end

      def carried_ids(show, slots) = slots.map { |slot| show.patch.slots[slot].from }
      private_class_method :missing, :finding, :without_socket, :carried_ids
    end
  end
end
