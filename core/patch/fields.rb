# frozen_string_literal: true

module Loomshuttle
  module Patch
    # The parts of a patch that can be recalled, pushed or pulled alone: every field of every
    # device, and what belongs to no field.
    module Fields
      # name => the parts of Show::Parts that it stands for
      OTHERS = {"plugs" => %w[plugs], "sends" => %w[sends], "feeds" => %w[turned], "phantom" => %w[powered]}.freeze

      module_function

      # @return [Array<String>] "desk/channel", ..., "plugs", "sends", "feeds", "phantom"
      def of(show) = slotted(show) + OTHERS.keys

      # Only those that have slots.
      def slotted(show) = show.rig.devices.values.flat_map { |device| device.profile.fields.keys.map { |family| "#{device.id}/#{family}" } }

      # @return [String] which field a key of a part belongs to
      def field_of(part, key)
        return Endpoint.parse(key).field if part == "slots" || part == "opened"

        OTHERS.find { |_, parts| parts.include?(part) }&.first || "plugs"
      end

      def label(show, name)
        if OTHERS.key?(name)
          return {"plugs" => "where microphones are plugged",
                  "sends" => "sends to mixes",
                  "feeds" => "stage or recorder",
                  "phantom" => "phantom power"}.fetch(name)
        end

        place = show.rig.place("#{name}/1")
        return name unless place

        "#{place.device.name}: #{place.device.listener? ? "inputs" : place.family.label}"
      end
    end
  end
end
