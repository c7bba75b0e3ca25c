# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Whether a slot may take a source: the question that every patching edit asks.
    module Sources
      module_function

      # @return [Refusal, nil]
      def refuse(show, slot_id, from_id, tap, delay_ms)
        field = show.rig.field_of(slot_id)
        refuse_absent(show, slot_id) || refuse_family(show, field, slot_id, from_id) || refuse_number(show, from_id) ||
          refuse_tap(show, from_id, tap) || refuse_delay(show, field, slot_id, delay_ms)
      end

      def refuse_family(show, field, slot_id, from_id)
        return nil if Signal::Route.takable?(field, Endpoint.parse(slot_id), from_id)

        allowed = field.takes?("*") ? "an output socket" : field.takes.map { |family| named(show, slot_id, family) }.join(", ")
        Refusal.new(field: "from",
          value: from_id,
          allowed: allowed,
          why: "#{show.label(slot_id)} cannot take #{show.label(from_id)}; it takes: #{allowed}.")
      end

      # What the model has not cannot take anything; what stands there from a file is freed only.
      def refuse_absent(show, slot_id)
        return nil if show.rig.present?(slot_id)

        there = show.rig.family_of(slot_id).there
        Refusal.new(field: "slot", value: slot_id, allowed: "a number from 1 to #{there}", why: "This model has no #{show.label(slot_id)}: it ends at #{there}.")
      end

      # A family as it is called on the device.
      def named(show, slot_id, family) = show.rig.place(slot_id).device.family(family)&.label || family

      def refuse_number(show, from_id)
        return refuse_role(show, from_id) if Endpoint.parse(from_id).device == "songs"
        return nil if show.rig.present?(from_id)

        there = show.rig.family_of(from_id)&.there || 0
        Refusal.new(field: "from", value: from_id, allowed: "a number from 1 to #{there}",
          why: "This model has no #{show.label(from_id)}: it ends at #{there}.")
      end

      def refuse_role(show, from_id)
        return nil if Signal::Trace.known?(show, from_id)

        Refusal.new(field: "from", value: from_id, allowed: [*show.roles.keys, *show.mixes.values.map(&:name)].join(", "), why: "No song has the #{show.label(from_id)}.")
      end

      def refuse_tap(show, from_id, tap)
        taps = show.rig.family_of(from_id)&.taps || []
        return nil if tap.nil? || taps.include?(tap)

        Refusal.new(field: "tap", value: tap, allowed: taps.join(", "),
          why: "#{show.label(from_id)} offers no tap \"#{tap}\"; it offers: #{taps.join(", ")}.")
      end

      def refuse_delay(show, field, slot_id, delay_ms)
        return nil if delay_ms.between?(0, field.delay_max_ms)

        Refusal.new(field: "delay_ms", value: delay_ms, allowed: "0 to #{field.delay_max_ms} ms",
          why: "#{show.label(slot_id)} can be delayed by 0 to #{field.delay_max_ms} ms, not by #{delay_ms}.")
      end
      private_class_method :refuse_absent, :refuse_family, :named, :refuse_number, :refuse_role, :refuse_tap, :refuse_delay
    end
  end
end
