# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # What jobs share that learn how songs sound.
      module Measured
        # Of all stems' waveforms, below a song's folder.
        PICTURE = "song.overview"

        private

        # @return [Hash] loudness_lufs, true_peak_dbtp, sides_db, sum_peak_dbfs, frames, extremes
        def measured(path, title)
          tally = Files::Tally.of(path) { go_on! }
          {**tally.sides, **Files::Loudness.of_command([path]) { |*command| program(*command, field: title) }, frames: tally.frames, extremes: (1..tally.channels).map { |channel| tally.extremes(channel) }}
        end

        # @param paths [Array<String>] of all stems
        # @return [Hash] loudness_lufs, true_peak_dbtp of them together
        def together(paths, title) = Files::Loudness.of_command(paths) { |*command| program(*command, field: title) }

        # @param folder [String] of the song
        # @param extremes [Array<Numo::Int16>] one a channel
        def draw(folder, extremes)
          picture = File.join(folder, PICTURE)
          File.binwrite("#{picture}.part", Loomshuttle::Capture::Overview.of(extremes))
          File.rename("#{picture}.part", picture)
        end
      end
    end
  end
end
