# frozen_string_literal: true

require "json"
require "open3"

module Loomshuttle
  module Files
    # What a sound file of any kind holds: a good WAV file as its own header says, which takes a moment; any other as ffprobe
    # does, whose start alone takes a tenth of a second.
    module Probe
      # Stems are mono or stereo.
      CHANNELS_MAX = 2
      private_constant :CHANNELS_MAX

      module_function

      # @return [Hash] encoding, bits, channels, sample_rate_hz, frames, warnings
      # @raise [BadInput]
      def of(path, title) = of_wav(path) || of_any(path, title)

      # @return [Hash, nil] nil for what is no WAV file, or not a good one
      def of_wav(path)
        File.open(path, "rb") do |io|
          reader = Audio::Wav::Reader.new(io)
          format = reader.format
          next unless reader.warnings.empty? && reader.frames.positive? && format.channels.between?(1, CHANNELS_MAX)

          {encoding: format.encoding, bits: format.bits, channels: format.channels, sample_rate_hz: format.sample_rate_hz, frames: reader.frames, warnings: []}
        end
      rescue Audio::Wav::Malformed, SystemCallError
        nil
      end

      def of_any(path, title)
        text, status = Open3.capture2("ffprobe", "-v", "error", "-select_streams", "a:0", "-show_entries", "stream=codec_name,channels,sample_rate,bits_per_raw_sample,duration:format=duration",
          "-of", "json", "-i", path, err: File::NULL, stdin_data: "")
        data = JSON.parse(text)
        stream = data.fetch("streams", []).first
        refuse(title, "no sound", "a sound file: WAV, AIFF, FLAC, MP3, AAC or Opus") unless status.success? && stream
        refuse(title, "#{stream["channels"]} channels", "one channel or two") unless stream["channels"].between?(1, CHANNELS_MAX)

        holds(stream, (stream["duration"] || data.dig("format", "duration")).to_f, title)
      rescue JSON::ParserError
        refuse(title, "no sound", "a sound file: WAV, AIFF, FLAC, MP3, AAC or Opus")
      end

      def holds(stream, seconds, title)
        refuse(title, "0 s", "a file that holds samples") unless seconds.positive?
        rate_hz = stream["sample_rate"].to_i
        {encoding: stream["codec_name"], bits: stream["bits_per_raw_sample"].to_i, channels: stream["channels"], sample_rate_hz: rate_hz, frames: (seconds * rate_hz).round, warnings: []}
      end

      def refuse(title, value, allowed) = raise(BadInput.new(field: title, value: value, allowed: allowed))
      private_class_method :of_wav, :of_any, :holds, :refuse
    end
  end
end
