# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Lets one field follow another: "card sends follow the inputs". Slot n takes the very
    # source that slot n of the other field takes; where it cannot, and can take the channel
    # itself, it takes that.
    CopyLayout = Edit.of("copy_layout", from_field: :id, to_field: :id) do
      def apply(show)
        source, target = [from_field, to_field].map { |name| show.rig.place("#{name}/1") }
        missing = [[from_field, source], [to_field, target]].find { |_, place| place&.field.nil? }&.first
        if missing
          return Refusal.new(field: "from_field",
            value: missing,
            allowed: "a field of this rig, as in desk/channel",
            why: "There is no field #{missing} to copy.")
        end

        takes = (1..[source.family.count, target.family.count].min).filter_map { |number| copied(show, target, number) }.to_h
        return nothing(show, source, target) if takes.empty?

        LayoutChange.apply(show, takes)
      end

      private

      def copied(show, target, number)
        taken = show.patch.slots["#{from_field}/#{number}"] or return nil
        field = target.field
        return ["#{to_field}/#{number}", taken] if field.takes?(Endpoint.parse(taken.from).family)

        channel = "#{from_field}/#{number}"
        tap = show.rig.family_of(channel).default_tap
        ["#{to_field}/#{number}", Patch::Pick.new(from: channel, tap: tap)] if field.takes?(Endpoint.parse(channel).family)
      end

      def nothing(_show, source, target)
        Refusal.new(field: "to_field", value: to_field, allowed: "a field that can take the same sources",
          why: "Nothing that #{source.device.name}'s #{source.family.label} field takes can be taken by #{target.device.name}'s #{target.family.label} field.")
      end
    end
  end
end
