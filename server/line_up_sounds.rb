# frozen_string_literal: true

module Loomshuttle
  module Server
    # What is sent on a lane so that somebody finds it at the desk: its number, spoken or in beeps, as a file that is made when it
    # is asked for first.
    #
    #   LineUpSounds.new(data_folder).path(29, "beeps", 48_000)   # => "lineup/48000/beeps-29.wav"
    class LineUpSounds
      KINDS = %w[spoken beeps].freeze
      BEHIND_S = 0.8
      private_constant :BEHIND_S

      def initialize(data_folder)
        @data_folder = data_folder
      end

      # @return [String] below the data folder
      # @raise [BadInput]
      def path(number, kind, rate_hz)
        raise BadInput.new(field: "kind", value: kind, allowed: KINDS.join(", ")) unless KINDS.include?(kind)

        File.join("lineup", rate_hz.to_s, "#{kind}-#{number}.wav").tap { |path| make(File.join(@data_folder, path), number, kind, rate_hz) }
      end

      private

      def make(path, number, kind, rate_hz)
        return if File.exist?(path)

        FileUtils.mkdir_p(File.dirname(path), mode: 0o700)
        return Files::Speech.write("Lane #{number}", path, rate_hz: rate_hz, behind_s: BEHIND_S) { |*command| Files::Speech.run(*command) } if kind == "spoken"

        sound = Loomshuttle::Lineup::Beeps.of(number, rate_hz).reshape(1, true)
        Files::WavWriter.write(path, rate_hz: rate_hz, names: ["lane #{number}"], frames: sound.shape[1]) { |from, count| sound[true, from...(from + count)] }
      end
    end
  end
end
