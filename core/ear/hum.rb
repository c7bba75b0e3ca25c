# frozen_string_literal: true

require "numo/pocketfft"

module Loomshuttle
  module Ear
    # Hum of the mains: 50 or 60 Hz and what lies at whole multiples of it, over the noise beside them.
    #
    #   Hum.of(samples, rate_hz: 48_000)   # => #<struct hz=50, over_db=31.2, level_dbfs=-52.0>
    #
    # hz          50 or 60, whichever stands out more
    # over_db     power at the fundamental and its harmonics over that of the noise in the same bands
    # level_dbfs  of that power, as a sine's of the same power (AES17)
    Hum = Value.of(:hz, :over_db, :level_dbfs)

    class Hum
      MAINS_HZ = [50, 60].freeze
      HARMONICS = 8
      # The lines of two mains must not touch: ten Hz apart, with a Hann window's four bins each.
      SHORTEST_S = 0.5
      # A band is this wide on either side; the mains itself wanders by a tenth of a Hz.
      HALF_BAND_BINS = 2
      SIDE_BINS = 6
      # What lies between is the noise, from under the first line to over the last.
      NOISE_HZ = (30.0..520.0)
      # What comes again after a period of the mains so much the same may be hum, and is where it still does after many;
      # over 0.2 s no note of a tempered scale at 440 Hz keeps step with it. The mains wanders by 0.2 Hz (from memory: what
      # grids allow themselves).
      SAME = 0.95
      STILL_SAME = 0.9
      MANY_S = 0.2
      # Of what is hum alone its lines hold nearly all.
      SHARE_DB = 1.0
      # Hum stays; a drum that is tuned to the mains dies away.
      DIES_DB = 3.0
      PART_S = 0.02
      # Mean square of a Hann window: what it takes of a signal's power.
      HANN_POWER = 0.375
      private_constant :HARMONICS, :HALF_BAND_BINS, :SIDE_BINS, :NOISE_HZ, :SAME, :STILL_SAME, :MANY_S, :SHARE_DB, :DIES_DB, :PART_S, :HANN_POWER

      # @param samples [Numo::SFloat] [frames], full scale 1, at least SHORTEST_S of them
      # @return [Hum, nil] nil for what is too short, or digital silence
      def self.of(samples, rate_hz:)
        return nil if samples.size < SHORTEST_S * rate_hz

        power = power(samples)
        MAINS_HZ.filter_map { |hz| at(hz, power, rate_hz / samples.size.to_f) }.max_by(&:over_db)
      end

      # Whether what is heard may turn out to be nothing but hum: a tap or a word is not.
      #
      # @param samples [Numo::SFloat] [frames], a tenth of a second or more
      def self.likely?(samples, rate_hz:)
        !dies?(samples, (PART_S * rate_hz).round) && MAINS_HZ.any? { |hz| again(samples, rate_hz.fdiv(hz).round) > SAME }
      end

      # @return [Hum, nil] nil where there is anything else, or too little to tell
      def self.alone(samples, rate_hz:)
        hum = of(samples, rate_hz: rate_hz)
        return nil unless hum && hum.level_dbfs > Audio::Scale.rms_dbfs((samples**2).mean) - SHARE_DB

        hum if again(samples, (MANY_S * rate_hz).round) > STILL_SAME && !dies?(samples, samples.size / 4)
      end

      # @return [Float] how much the same it is so much later, whatever its level is then; 1 for the very same
      def self.again(samples, lag_frames)
        return 0.0 if samples.size <= lag_frames

        early, late = samples[0...-lag_frames], samples[lag_frames..]
        energy = Math.sqrt(early.mulsum(early).to_f * late.mulsum(late).to_f)
        energy.positive? ? early.mulsum(late).to_f / energy : 0.0
      end

      # Whether its end is softer than its beginning.
      def self.dies?(samples, part_frames)
        return false if samples.size < part_frames

        first, last = samples[0...part_frames], samples[-part_frames..]
        last.mulsum(last) < first.mulsum(first) * 10**(-DIES_DB / 10)
      end

      # @return [Numo::DFloat] [bins], mean square in each, one-sided
      def self.power(samples)
        window = 0.5 - Numo::NMath.cos(Numo::DFloat.new(samples.size).seq * (2 * Math::PI / samples.size)) * 0.5
        spectrum = Numo::Pocketfft.rfft((Numo::DFloat.cast(samples) - samples.mean) * window)
        spectrum.abs**2 * (2.0 / (samples.size.to_f**2 * HANN_POWER))
      end

      def self.at(hz, power, bin_hz)
        bands = (1..HARMONICS).map { |n| (hz * n / bin_hz).round }.map { |bin| (bin - HALF_BAND_BINS)..(bin + HALF_BAND_BINS) }
        noise = noise(bands, power, bin_hz)
        return nil unless noise.positive?

        lines = bands.sum { |band| standing_out(band, power) }
        new(hz: hz, over_db: 10 * Math.log10(1 + lines / (noise * bands.sum(&:size))), level_dbfs: Audio::Scale.rms_dbfs(lines))
      end

      # What a band holds more than either side of it. Where a side is higher, it is somebody's note.
      def self.standing_out(band, power)
        sides = [(band.begin - SIDE_BINS)..(band.begin - 1), (band.end + 1)..(band.end + SIDE_BINS)].map { |side| power[side] }
        return 0.0 if sides.map(&:max).max >= power[band].max

        [power[band].sum - sides.map(&:mean).max * band.size, 0.0].max
      end

      # A median, so that a note of somebody's is no noise; the median of a chi-squared power with two degrees
      # of freedom is ln 2 of its mean.
      def self.noise(bands, power, bin_hz)
        taken = bands.flat_map(&:to_a).to_set
        beside = ((NOISE_HZ.begin / bin_hz).ceil..(NOISE_HZ.end / bin_hz).floor).reject { |bin| taken.include?(bin) }
        power[beside].median / Math.log(2)
      end
      private_class_method :again, :dies?, :power, :at, :standing_out, :noise
    end
  end
end
