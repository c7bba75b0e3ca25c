# frozen_string_literal: true

require "open3"

module Loomshuttle
  module Files
    # Words read out by espeak-ng, as a mono WAV file at any rate.
    #
    #   Speech.write("Verse", "cues/verse.wav", rate_hz: 48_000, language: "en-gb") { |*command| system(*command, exception: true) }
    module Speech
      # What is offered; espeak-ng's own codes.
      LANGUAGES = {"en-gb" => "English", "de" => "German", "fr-fr" => "French", "es" => "Spanish", "it" => "Italian", "nl" => "Dutch", "sv" => "Swedish", "nb" => "Norwegian",
                   "da" => "Danish", "fi" => "Finnish", "pl" => "Polish", "pt" => "Portuguese"}.freeze
      TEXT_LENGTH_MAX = 200
      WORDS_A_MINUTE = 150
      # The highest sample, as that of Lineup::Beeps.
      PEAK_DBFS = Loomshuttle::Lineup::Beeps::PEAK_DBFS
      private_constant :WORDS_A_MINUTE

      module_function

      # Whatever silence lies before the first word is cut off.
      #
      # @param behind_s [Float] silence that is added
      # @yield [Array<String>] a command that is to be run, and raises where it fails
      # @raise [BadInput]
      def write(text, path, rate_hz:, language: "en-gb", behind_s: 0.0, &run)
        raise BadInput.new(field: "language", value: language, allowed: LANGUAGES.keys.join(", ")) unless LANGUAGES.key?(language)
        raise BadInput.new(field: "text", value: text, allowed: "1 to #{TEXT_LENGTH_MAX} characters") unless text.strip.size.between?(1, TEXT_LENGTH_MAX)

        spoken = "#{path}.spoken"
        # After a dash nothing is taken for a switch.
        run.call("espeak-ng", "-v", language, "-s", WORDS_A_MINUTE.to_s, "-w", spoken, "--", text)
        cut = "silenceremove=start_periods=1:start_threshold=-50dB,aresample=#{rate_hz}:resampler=swr"
        run.call("ffmpeg", "-nostdin", "-v", "error", "-y", "-i", spoken, "-af", "#{cut},apad=pad_dur=#{behind_s}", "-ac", "1", "-c:a", "pcm_f32le", "-f", "wav", "#{path}.part")
        as_loud("#{path}.part", path, rate_hz, text)
      ensure
        [spoken, "#{path}.part"].each { |left| File.delete(left) if left && File.exist?(left) }
      end

      # Every voice has a level of its own; here all have one.
      def as_loud(source, target, rate_hz, text)
        whole = WavSource.new(source).then { |one| one.read(0, one.frames).tap { one.close } }
        whole *= Audio::Scale.ratio(PEAK_DBFS) / whole.abs.max if whole.size.positive? && whole.abs.max.positive?
        WavWriter.write(target, rate_hz: rate_hz, names: [text[0, 60]], frames: whole.shape[1]) { |from, count| whole[true, from...(from + count)] }
      end
      private_class_method :as_loud

      # Runs a command whose words are short.
      #
      # @raise [BadInput] with what it says
      def run(*command)
        said, status = Open3.capture2e(*command)
        raise BadInput.new(field: File.basename(command.first), value: status.exitstatus, allowed: "0: #{said.lines.last.to_s.strip[0, 200]}") unless status.success?
      rescue Errno::ENOENT
        raise BadInput.new(field: command.first, value: nil, allowed: "#{command.first} installed on this machine")
      end
    end
  end
end
