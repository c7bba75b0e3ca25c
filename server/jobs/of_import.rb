# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Server
    module Jobs
      # What jobs share that make something of an import: it is built out of sight, and what was brought is taken
      # away with a task that somebody stopped; after a fault it stays, to be tried again.
      class OfImport < Job
        private

        def prepare(args) = @import = parts.imports.get(args["import"])

        # @raise [BadInput]
        def import!
          @import or raise BadInput.new(field: "import", value: nil, allowed: "an import that is still there")
        end

        # @return [String] where it is built, on the disk where it will stand
        def staged = raise(NotImplementedError)

        # @return [Array<String>] what an attempt of before may have left
        def remains = [staged]

        # @return [Boolean] whether the effect is there already
        def made? = raise(NotImplementedError)

        def clear = (FileUtils.rm_rf(remains) if @import && !made?)
        def uploads = File.join(parts.data_folder, "import", @import[:uid])

        def withdrawn
          return unless @import

          parts.imports.delete(@import[:id])
          FileUtils.rm_rf(uploads)
          nil
        end

        def broken = @import && parts.imports.state(@import[:id], "open") && nil

        # Soxr at its best.
        def convert(source, target, rate_hz, codec, title)
          program("ffmpeg", "-nostdin", "-v", "error", "-y", "-i", source, "-map", "0:a:0", "-af", "aresample=resampler=soxr:precision=28", "-ar", rate_hz.to_s,
            "-c:a", codec, "-rf64", "auto", "-f", "wav", target, field: title)
        end

        def source(file) = Actions::Landing.path(parts.data_folder, @import, file)
        def tally(path) = Files::Tally.of(path) { go_on! }
      end
    end
  end
end
