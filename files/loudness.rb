# frozen_string_literal: true

module Loomshuttle
  module Files
    # Loudness after EBU R 128 and true peak (ITU-R BS.1770) of files that sound together, as ffmpeg's ebur128
    # measures them.
    module Loudness
      # What it says of silence.
      SILENT_LUFS = -70.0
      private_constant :SILENT_LUFS

      module_function

      # @param paths [Array<String>] summed as they are
      # @yield [Array<String>] a command; answers what that wrote to its standard error
      # @return [Hash] loudness_lufs, true_peak_dbtp; nil where it is silent
      def of_command(paths)
        inputs = paths.flat_map { |path| ["-i", path] }
        sum = (paths.size > 1) ? "amix=inputs=#{paths.size}:normalize=0:duration=longest," : ""
        parse(yield("ffmpeg", "-nostdin", "-hide_banner", "-nostats", *inputs, "-filter_complex", "#{sum}ebur128=peak=true:framelog=verbose", "-f", "null", "-"))
      end

      # @param text [String] with ffmpeg's summary
      def parse(text)
        # A filter that was set up anew tells of nothing first.
        summary = text.split("Summary:").last.to_s
        loudness = summary[/I:\s+(-?[\d.]+|-inf) LUFS/, 1]
        peak = summary[/True peak:\s+Peak:\s+(-?[\d.]+|-inf) dBFS/m, 1]
        {loudness_lufs: number(loudness)&.then { |lufs| lufs if lufs > SILENT_LUFS }, true_peak_dbtp: number(peak)}
      end

      def number(text) = (text && text != "-inf") ? text.to_f : nil
      private_class_method :number
    end
  end
end
