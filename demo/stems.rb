# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Demo
    # The two stems of the demo's song, synthesised at its tempo: a slow organ and a drum.
    module Stems
      module_function

      # @param folder [String] of all songs
      def write(folder)
        song = Demo.data[:songs].first
        target = File.join(folder, song[:id])
        FileUtils.mkdir_p(target)
        {"marsh organ.wav" => organ, "tide drum.wav" => drum}.each do |name, part|
          path = File.join(target, name)
          File.binwrite(path, wav(name, part)) unless File.exist?(path)
        end
      end

      def wav(name, part)
        bext = Audio::Wav::Bext.new(time_reference_samples: 0, originator: "Loomshuttle demo")
        header = Audio::Wav::Header.new(sample_rate_hz: SAMPLE_RATE_HZ, bext: bext, track_names: [name])
        samples = Numo::Int32.cast((part / part.abs.max * 0.3 * 2**23).rint) << 8
        header.bytes(samples.size) + Audio::Wav::Samples.to_24(samples)
      end

      def time_s(frames) = Numo::DFloat.new(frames).seq / SAMPLE_RATE_HZ

      # A drone with its fifth and octave, swelling once a bar.
      def organ
        t = time_s(LENGTH_FRAMES)
        bar_s = 4 * 60.0 / BPM
        swell = Numo::NMath.sin(t * Math::PI / bar_s)**2 + 0.15
        [110.0, 165.0, 220.0].sum { |hz| Numo::NMath.sin(t * 2 * Math::PI * hz) } * swell
      end

      # One beat of the drum, over and over.
      def drum
        beat = 60 * SAMPLE_RATE_HZ / BPM
        t = time_s(beat)
        one = Numo::NMath.sin(t * 2 * Math::PI * 70) * Numo::NMath.exp(t * -12)
        one.tile(LENGTH_FRAMES / beat)
      end
    end
  end
end
