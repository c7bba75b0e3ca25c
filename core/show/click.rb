# frozen_string_literal: true

module Loomshuttle
  class Show
    # Makes a song's click from its tempo and time signature: an accent on the first beat
    # of a bar.
    #
    #   click = Click.new(bpm: 127, beats_per_bar: 4, sample_rate_hz: 44_100)
    #   click.onset(5)          # => frame of the sixth beat
    #   click.render(0, 1024)   # => Numo::Int32[1024], full scale 2^31
    class Click
      ACCENT_HZ = 1760.0
      BEAT_HZ = 1174.7
      LENGTH_S = 0.03
      PEAK_DBFS = -12.0
      private_constant :ACCENT_HZ, :BEAT_HZ, :LENGTH_S, :PEAK_DBFS

      # @param bpm [Numeric] beats a minute; kept exact, so that an hour never drifts
      def initialize(bpm:, beats_per_bar:, sample_rate_hz:)
        @frames_per_beat = Rational(60 * sample_rate_hz) / bpm.to_r
        @beats_per_bar = beats_per_bar
        @sounds = [ACCENT_HZ, BEAT_HZ].map { |pitch_hz| sound(pitch_hz, sample_rate_hz) }
      end

      # @param beat [Integer] from 0
      # @return [Integer] frame, rounded from the exact sum
      def onset(beat) = (@frames_per_beat * beat).round

      # @return [Numo::Int32] [frames], full scale 2^31
      def render(from_frame, frames)
        block = Numo::Int32.zeros(frames)
        first = [((from_frame - @sounds[0].size) / @frames_per_beat).floor, 0].max
        first.step do |beat|
          break if onset(beat) >= from_frame + frames

          lay(block, from_frame, beat)
        end
        block
      end

      private

      def lay(block, from_frame, beat)
        tone = @sounds[(beat % @beats_per_bar == 0) ? 0 : 1]
        start = onset(beat) - from_frame
        into = [start, 0].max...[start + tone.size, block.size].min
        block[into] = tone[(into.begin - start)...(into.end - start)] if into.begin < into.end
      end

      # A sine that starts at its full height and dies away: its onset is one sample sharp.
      def sound(pitch_hz, sample_rate_hz)
        time_s = Numo::DFloat.new((LENGTH_S * sample_rate_hz).round).seq / sample_rate_hz
        wave = Numo::NMath.cos(time_s * 2 * Math::PI * pitch_hz) * Numo::NMath.exp(time_s * -5 / LENGTH_S)
        Numo::Int32.cast((wave * Audio::Scale.ratio(PEAK_DBFS) * 2**23).rint) << 8
      end
    end
  end
end
