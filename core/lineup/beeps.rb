# frozen_string_literal: true

module Loomshuttle
  module Lineup
    # A lane's number in beeps: long low ones for tens, short high ones for units, then silence until it comes again.
    #
    #   Beeps.of(23, 48_000)   # => Numo::SFloat [frames]: two long, three short
    module Beeps
      # Pitch and length of a beep; behind each so much silence.
      LONG = [440.0, 0.45].freeze
      SHORT = [880.0, 0.12].freeze
      GAP_S = 0.13
      BEHIND_S = 1.2
      # It begins and ends without a click.
      EDGE_S = 0.005
      PEAK_DBFS = -6.0
      private_constant :LONG, :SHORT, :GAP_S, :BEHIND_S, :EDGE_S

      module_function

      # @param number [Integer] of the lane, from 1
      # @return [Numo::SFloat] [frames], full scale 1
      def of(number, rate_hz)
        tens, units = number.divmod(10)
        beeps = [LONG] * tens + [SHORT] * units
        parts = beeps.flat_map { |pitch_hz, length_s| [beep(pitch_hz, length_s, rate_hz), Numo::SFloat.zeros((GAP_S * rate_hz).round)] }
        Numo::SFloat.hstack([*parts, Numo::SFloat.zeros((BEHIND_S * rate_hz).round)])
      end

      def beep(pitch_hz, length_s, rate_hz)
        frames = (length_s * rate_hz).round
        ramp = Numo::DFloat.new(frames).seq(0.5) / (EDGE_S * rate_hz)
        edges = Numo::DFloat.minimum(Numo::DFloat.minimum(ramp, ramp.reverse), 1.0)
        time_s = Numo::DFloat.new(frames).seq / rate_hz
        Numo::SFloat.cast(Numo::NMath.sin(time_s * 2 * Math::PI * pitch_hz) * edges * Audio::Scale.ratio(PEAK_DBFS))
      end
      private_class_method :beep
    end
  end
end
