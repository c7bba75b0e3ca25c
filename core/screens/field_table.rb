# frozen_string_literal: true

module Loomshuttle
  module Screens
    # One field of one device as a table: a line a slot, with what it takes, what arrives by
    # that, at which tap and with how much delay; and everything that the field may take.
    #
    #   FieldTable.of(show, "desk/card-send")   # => {field:, label:, block:, slots: [...], sources: [...]}
    module FieldTable
      module_function

      # @param name [String] "device/family"
      # @return [Hash] plain data
      # @raise [BadInput] when the rig has no such field
      def of(show, name)
        place = show.rig.place("#{name}/1")
        raise BadInput.new(field: "field", value: name, allowed: Patch::Fields.slotted(show).join(", ")) unless place&.field

        {field: name,
         label: Patch::Fields.label(show, name),
         block: place.field.block,
         opens: place.field.opens,
         delay_max_ms: place.field.delay_max_ms,
         slots: show.places(place.device, place.family.name).map { |slot| line(show, slot) },
         sources: sources(show, place)}
      end

      def line(show, slot)
        take = show.patch.slots[slot]
        {id: slot,
         number: Endpoint.parse(slot).number,
         name: show.track_at(slot)&.name || show.names[slot] || "",
         present: show.rig.present?(slot),
         opened: show.rig.field_of(slot).blocks? && show.patch.opened.include?(Patch::Block.first(show, slot)),
         takes: take ? words(show, take.from) : "",
         arrives: take ? arrives(show, slot) : "",
         tap: take&.tap,
         taps: take ? show.rig.family_of(take.from)&.taps || [] : [],
         delay_ms: take&.delay_ms || 0.0}
      end

      # The source, mix or recorded track whose signal comes to the slot.
      def arrives(show, slot)
        carried = Signal::Carried.of(show, slot) or return "nothing"
        return show.label(carried) unless show.graph.track?(carried)

        "#{show.track_at(carried)&.name || show.label(carried)}, from disk"
      end

      # What may be typed: places of this device that the field takes, by their own name and by
      # the place at the far end of fixed wires, where that says more.
      #
      # @return [Array<Hash>] {id:, label:}
      def sources(show, slot)
        places = takable(show, slot.field, slot.device)
        places.map { |id| {id: id, label: words(show, id)} } + places.filter_map { |id|
          if words(show, id) != show.rig.label(id)
            {id: id, label: show.rig.label(id)}
          end
        }
      end

      def takable(show, field, device)
        if field.takes?("*")
          return show.rig.devices.values.flat_map { |one| show.places(one, "out-socket") }.select { |id| show.rig.present?(id) }
        end

        own = field.takes.flat_map { |family| show.places(device, family) }.select { |id| show.rig.present?(id) }
        field.takes?("role") ? [*show.roles.values, *show.mixes.values].map(&:endpoint) + own : own
      end

      def words(show, id)
        return show.label(id) if id.start_with?("songs/")
        # What people called it stands on every other screen too.
        return show.label(id) if show.names.key?(id)

        Signal::Route.words(show, id)
      end
      private_class_method :line, :arrives, :sources, :takable, :words
    end
  end
end
