# frozen_string_literal: true

module Loomshuttle
  module Standin
    # Twelve synthesised musicians that play the same eight bars in time with each other.
    # The music is made once, as whole samples of 24 bits, and goes round.
    #
    #   band = Band.new(sample_rate_hz: 48_000)
    #   band.block(frame, 1024)   # => Numo::SFloat[12, 1024], full scale 1.0
    class Band
      MUSICIANS = 12
      BPM = 100
      BARS = 8
      # Equal temperament on A4 = 440 Hz (ISO 16).
      A4_HZ = 440.0
      # Where normal playing sits: peaks 8 to 16 dB under full scale, common practice. One
      # each, in the order of the demo's input list.
      PEAKS = [0.31, 0.22, 0.24, 0.33, 0.4, 0.36, 0.18, 0.2, 0.29, 0.17, 0.26, 0.3].freeze
      # One MIDI note a beat, for four beats; nil rests.
      TUNE = [69, 72, 76, 74, 72, 69, 67, 64, 65, 69, 72, 71, 69, 67, 64, nil].freeze
      private_constant :BPM, :BARS, :A4_HZ, :PEAKS, :TUNE

      attr_reader :length_frames

      # @param kept_in [String, nil] a folder where the music lies ready for the next time: making it takes seconds
      def initialize(sample_rate_hz:, seed: 7, kept_in: nil)
        @rate_hz = sample_rate_hz
        @beat = sample_rate_hz * 60 / BPM
        @length_frames = @beat * 4 * BARS
        @music = kept_in ? kept(kept_in, seed) : made(seed)
      end

      # Blocks up to this size are cut in one piece, also where the music goes round.
      MAX_BLOCK = 8192

      # @return [Numo::SFloat] [12, frames], a view
      def block(frame, frames)
        from = frame % @length_frames
        @music[true, from...(from + frames)]
      end

      private

      def made(seed)
        Numo::NArray.srand(seed)
        music = Numo::SFloat.zeros(MUSICIANS, @length_frames + MAX_BLOCK)
        # One after the other: together they would take three times the memory of the music.
        parts.each_with_index do |part, i|
          music[i, 0...@length_frames] = whole_samples(part.call, PEAKS[i])
          GC.start
        end
        music[true, @length_frames..-1] = music[true, 0...MAX_BLOCK]
        music
      end

      # By what it was made with: another program makes other music. Where nothing can be kept it is made each time.
      def kept(folder, seed)
        path = File.join(folder, "band-#{@rate_hz}-#{seed}-#{Digest::SHA256.file(__FILE__).hexdigest[0, 16]}.f32")
        shape = [MUSICIANS, @length_frames + MAX_BLOCK]
        return Numo::SFloat.from_binary(File.binread(path), shape) if File.size?(path) == shape.inject(:*) * 4

        made(seed).tap { |music| keep(path, music) }
      rescue SystemCallError
        made(seed)
      end

      # Whole or not at all: several may make it at once.
      def keep(path, music)
        FileUtils.mkdir_p(File.dirname(path))
        File.binwrite("#{path}.#{Process.pid}", music.to_binary)
        File.rename("#{path}.#{Process.pid}", path)
        # What another program made nobody reads any more.
        FileUtils.rm_f(Dir[path.sub(/-\h+\.f32\z/, "-*.f32")] - [path])
      rescue SystemCallError
        nil
      end

      # In the order of the demo's input list.
      def parts
        [-> { tune(-12, [1, 0.7, 0.5, 0.4], 0.9) },
          -> { tune(0, [1, 0.2, 0.3], 0.15) },
          -> { tune(0, [1, 0.3, 0.2], 0.18, 0.25) },
          -> { tune(-36, [1, 0.5], 0.5) },
          -> { hits(0, 2) { |n| sine(n, 55) * decay(n, 0.09) } },
          -> { hits(1, 2) { |n| noise(n) * decay(n, 0.06) } },
          -> { hits(0, 0.5) { |n| noise(n) * decay(n, 0.03) * 0.5 } },
          -> { hits(0.5, 1) { |n| noise(n) * decay(n, 0.05) * 0.5 } },
          -> { tune(-5, [1, 0.6, 0.6, 0.3, 0.2], 1.2) },
          -> { tune(12, [1, 0.1, 0.4], 0.12, 0.5) },
          -> { hits(1.5, 4) { |n| noise(n) * decay(n, 0.2) * sine(n, 9).abs } },
          -> { speech }]
      end

      # In place: a part is 7 MB.
      def whole_samples(part, peak)
        scaled = part.inplace * (peak / part.minmax.map(&:abs).max * 2**23)
        (scaled.rint / 2**23).out_of_place!
      end

      # A melody of plucked or blown notes: harmonics with a common decay.
      def tune(shift, harmonics, decay_s, late_beats = 0)
        hits(late_beats, 1) do |n, beat|
          note = TUNE[beat % TUNE.size]
          next Numo::DFloat.zeros(n) unless note

          hz = A4_HZ * 2**((note + shift - 69) / 12.0)
          harmonics.each.with_index(1).sum { |level, k| sine(n, hz * k) * level } * decay(n, decay_s)
        end
      end

      # A part made of events every so many beats, each no longer than the gap.
      def hits(first_beat, every_beats)
        part = Numo::DFloat.zeros(@length_frames)
        gap = (@beat * every_beats).to_i
        starts = ((first_beat * @beat).to_i...@length_frames).step(gap)
        starts.each_with_index do |start, i|
          n = [gap, @length_frames - start].min
          part[start...(start + n)] = yield(n, i)
        end
        part
      end

      # Syllables: a low buzz in bursts of uneven length, with pauses between the sentences.
      def speech
        hits(0, 0.5) do |n, i|
          (i % 9 > 6) ? Numo::DFloat.zeros(n) : (sine(n, 118 + i % 5 * 9) + sine(n, 236) * 0.6 + sine(n, 710) * 0.3) * decay(n, 0.08 + i % 3 * 0.05)
        end
      end

      def time_s(n) = Numo::DFloat.new(n).seq / @rate_hz
      def sine(n, hz) = Numo::NMath.sin(time_s(n) * 2 * Math::PI * hz)
      def decay(n, seconds) = Numo::NMath.exp(time_s(n) / -seconds)
      def noise(n) = Numo::DFloat.new(n).rand(-1, 1)
    end
  end
end
