# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets the sample rate of the show and of every device that has one.
    ShowRate = Edit.of("show_rate", rate_hz: :whole) do
      def apply(show)
        rates = Audio::Scale::SAMPLE_RATES_HZ
        unless rates.include?(rate_hz)
          return Refusal.new(field: "rate_hz",
            value: rate_hz,
            allowed: rates.join(", "),
            why: "#{rate_hz} Hz is no sample rate of this trade; use one of #{rates.join(", ")}.")
        end

        devices = show.rig.devices.transform_values { |device| device.rate_hz ? device.with(rate_hz: rate_hz) : device }
        show.with(sample_rate_hz: rate_hz, rig: show.rig.with(devices: devices.freeze))
      end
    end
  end
end
