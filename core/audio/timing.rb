# frozen_string_literal: true

module Loomshuttle
  module Audio
    # Time of buffers and of sound in air.
    module Timing
      # ISO 9613-1: speed of sound at the reference temperature, in dry enough air.
      SPEED_AT_REFERENCE_M_PER_S = 343.2
      REFERENCE_K = 293.15
      ZERO_CELSIUS_K = 273.15
      # What a hall, a tent or a field in winter can be.
      TEMPERATURES_C = (-30.0..50.0)

      module_function

      # @return [Float] ms that a buffer of so many frames takes: N/fs
      def buffer_ms(frames, sample_rate_hz) = frames * 1000.0 / sample_rate_hz

      # @return [Float] m/s, ISO 9613-1: 343.2 x sqrt(T / 293.15 K)
      def speed_of_sound_m_per_s(temperature_c) = SPEED_AT_REFERENCE_M_PER_S * Math.sqrt((temperature_c + ZERO_CELSIUS_K) / REFERENCE_K)

      # @return [Float] ms that sound needs over a distance
      def distance_ms(distance_m, temperature_c) = distance_m * 1000.0 / speed_of_sound_m_per_s(temperature_c)
    end
  end
end
