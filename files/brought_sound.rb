# frozen_string_literal: true

module Loomshuttle
  module Files
    # A sound that somebody brought, as mono files at every rate that a song may have; what lies before its onset is cut off,
    # so that it sounds when it is wanted.
    #
    #   BroughtSound.write("upload", "_sounds/3f0c9a51d2e4b678", title: "stick.wav") { |*command| ... }   # => seconds
    module BroughtSound
      # Under its own peak; what is softer before the onset is the room's.
      ONSET_DB = -50.0
      SILENT_DBFS = -60.0
      private_constant :ONSET_DB, :SILENT_DBFS

      module_function

      # @param source [String] a sound file of any kind
      # @param folder [String] there already
      # @yield [Array<String>] a command that is to be run, and raises where it fails
      # @return [Float] seconds, the longest of all files
      # @raise [BadInput] one that cannot be read, is too long, or holds silence alone
      def write(source, folder, title:, &run)
        held = Probe.of(source, title)
        length_s = held[:frames].fdiv(held[:sample_rate_hz])
        raise BadInput.new(field: title, value: "#{length_s.round(1)} s", allowed: "at most #{Show::OwnSound::LENGTH_MAX_S} s") if length_s > Show::OwnSound::LENGTH_MAX_S

        Audio::Scale::SAMPLE_RATES_HZ.map { |rate_hz| at_rate(source, File.join(folder, "#{rate_hz}.wav"), rate_hz, title, &run).fdiv(rate_hz) }.max
      end

      # @return [Integer] frames
      def at_rate(source, target, rate_hz, title, &run)
        whole = "#{target}.whole"
        to = ["-af", "aresample=resampler=soxr:precision=28", "-ar", rate_hz.to_s, "-ac", "1", "-c:a", "pcm_f32le", "-f", "wav", whole]
        run.call("ffmpeg", "-nostdin", "-v", "error", "-y", "-i", source, "-map", "0:a:0", *to)
        sound = from_onset(read(whole), title)
        WavWriter.write(target, rate_hz: rate_hz, names: [title[0, 60]], frames: sound.shape[1]) { |from, count| sound[true, from...(from + count)] }
        sound.shape[1]
      ensure
        FileUtils.rm_f(whole)
      end

      def read(path)
        source = WavSource.new(path)
        source.read(0, source.frames)
      ensure
        source&.close
      end

      def from_onset(sound, title)
        peak = sound.size.zero? ? 0.0 : sound.abs.max
        raise BadInput.new(field: title, value: "silence", allowed: "a sound louder than #{SILENT_DBFS} dBFS") if peak < Audio::Scale.ratio(SILENT_DBFS)

        onset = (sound[0, true].abs >= peak * Audio::Scale.ratio(ONSET_DB)).where[0]
        sound[true, onset..].dup
      end
      private_class_method :at_rate, :read, :from_onset
    end
  end
end
