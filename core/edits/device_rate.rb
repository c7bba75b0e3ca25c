# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets the sample rate of one device.
    DeviceRate = Edit.of("device_rate", device: :id, rate_hz: :whole) do
      def apply(show)
        refuse_device(show) || refuse_rate || show.with(rig: changed(show.rig))
      end

      private

      def changed(rig)
        rig.with(devices: rig.devices.merge(device => rig.devices[device].with(rate_hz: rate_hz)).freeze)
      end

      def refuse_device(show)
        return nil if show.rig.devices[device]&.digital?

        why = show.rig.devices.key?(device) ? "#{show.rig.devices[device].name} has no sample rate." : "This rig has no device #{device}."
        Refusal.new(field: "device", value: device, allowed: show.rig.devices.values.select(&:digital?).map(&:id).join(", "), why: why)
      end

      def refuse_rate
        return nil if Audio::Scale::SAMPLE_RATES_HZ.include?(rate_hz)

        Refusal.new(field: "rate_hz", value: rate_hz, allowed: Audio::Scale::SAMPLE_RATES_HZ.join(", "),
          why: "#{rate_hz} Hz is no sample rate of this trade; use one of #{Audio::Scale::SAMPLE_RATES_HZ.join(", ")}.")
      end
    end
  end
end
