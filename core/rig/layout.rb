# frozen_string_literal: true

module Loomshuttle
  module Rig
    # All gear of a show and the many-lane cables between it.
    #
    #   rig.family_of("desk/channel/9").taps
    #   rig.label("box-a/mic/9")              # => "Box A socket 9"
    Layout = Value.of(:devices, :cables) do
      def self.empty = new(devices: {}.freeze, cables: [].freeze)

      def device_of(endpoint_id) = devices[Endpoint.parse(endpoint_id).device]

      def family_of(endpoint_id)
        endpoint = Endpoint.parse(endpoint_id)
        devices[endpoint.device]&.family(endpoint.family)
      end

      def field_of(endpoint_id)
        endpoint = Endpoint.parse(endpoint_id)
        devices[endpoint.device]&.field(endpoint.family)
      end

      # True when a patch can name the place, even if this model lacks it.
      def named?(endpoint_id)
        endpoint = Endpoint.parse(endpoint_id)
        devices[endpoint.device]&.family(endpoint.family)&.named?(endpoint.number) || false
      end

      def present?(endpoint_id)
        endpoint = Endpoint.parse(endpoint_id)
        devices[endpoint.device]&.family(endpoint.family)&.present?(endpoint.number) || false
      end

      # The place in words, as it is said on stage.
      def label(endpoint_id)
        endpoint = Endpoint.parse(endpoint_id)
        device = devices[endpoint.device]
        family = device&.family(endpoint.family)
        return endpoint_id unless family
        return device.name if device.listener? && family.count == 1
        return "#{device.name} #{family.label[endpoint.number - 1]}" if device.listener?

        family.prefixed ? "#{device.name} #{family.label} #{endpoint.number}" : "#{family.label} #{endpoint.number}"
      end

      def listeners = devices.values.select(&:listener?)

      # The first device of a kind; the thin strip has one desk and one computer.
      def first_of(kind) = devices.values.find { |device| device.profile.kind == kind }
    end
  end
end
