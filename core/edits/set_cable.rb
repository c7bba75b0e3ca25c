# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Lays a cable between two ports, or changes one that is there. `Screens::CableForecast` says
    # beforehand what it would do.
    SetCable = Edit.of("cable", a: :id, b: :id, cable_kind: [:text, nil], length_m: [:length_m, nil], offset_a_to_b: [:whole, 0], offset_b_to_a: [:whole, 0], lanes: [:whole, nil]) do
      # `kind` is the edit's own, so the cable's goes by `cable_kind`.
      #
      # @param cable [Rig::Cable]
      def self.of(cable) = new(**cable.to_h.except(:kind), cable_kind: cable.kind)

      def cable = Rig::Cable.new(kind: cable_kind, **to_h.except(:cable_kind))

      def apply(show)
        laid = completed(show)
        return laid if laid.is_a?(Refusal)

        others = show.rig.cables.reject { |other| other.id == laid.id }
        at = show.rig.cables.index { |other| other.id == laid.id } || others.size
        show.with(rig: show.rig.with(cables: others.dup.insert(at, laid).freeze))
      end

      private

      # Kind and length that were left out: those of the cable that is there, or the
      # standard's own kind and a few metres.
      def completed(show)
        refusal = Rig::Plugging.refuse(show.rig, cable.a, cable.b)
        return refusal if refusal

        there = show.rig.cables.find { |other| other.id == cable.id }
        standard = Rig::Standard[show.rig.port(cable.a).last.standard]
        laid = cable.with(kind: cable.kind || there&.kind || standard.cables.first, length_m: cable.length_m || there&.length_m || [standard.length_max_m, 3].min)
        refuse_numbers(laid) || laid
      end

      def refuse_numbers(laid)
        return refuse("length_m", laid.length_m, "0 to 5000 m") unless laid.length_m.is_a?(Numeric) && laid.length_m.between?(0, 5000)
        return refuse("kind", laid.kind, "at most 60 characters") unless laid.kind.is_a?(String) && laid.kind.size <= 60
        return refuse("lanes", laid.lanes, "1 to 128") unless laid.lanes.nil? || (1..128).include?(laid.lanes)

        wrong = %i[offset_a_to_b offset_b_to_a].find { |name| !laid[name].is_a?(Integer) || !laid[name].between?(0, 127) }
        wrong && refuse(wrong.to_s, laid[wrong], "0 to 127")
      end

      def refuse(field, value, allowed)
        Refusal.new(field: field, value: value, allowed: allowed, why: "The cable's #{field} cannot be #{value}; allowed: #{allowed}.")
      end
    end
  end
end
