# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Server
    module Jobs
      # What jobs share that make something of an import: it is built out of sight, and what was brought is taken
      # away with a task that somebody stopped; after a fault it stays, to be tried again.
      class OfImport < Job
        # Starting a program takes longer than what it does to a short file: so many, and so much, it is given together.
        HANDFUL_FILES = 12
        HANDFUL_BYTES = 4 * 1024**2
        private_constant :HANDFUL_FILES, :HANDFUL_BYTES

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

        # @param files [Array] in their order
        # @yieldreturn [Integer] a file's bytes
        # @return [Array<Array>] short ones together, yet no core without work
        def handfuls(files)
          most = [HANDFUL_FILES, files.size.fdiv(AT_ONCE).ceil].min
          room = 0
          files.each_with_object([]) do |file, all|
            room -= yield(file)
            if room.negative? || all.last.size >= most
              all << []
              room = HANDFUL_BYTES - yield(file)
            end
            all.last << file
          end
        end

        # Soxr at its best.
        #
        # @param wishes [Array<Hash>] source, target, codec, title
        # @raise [BadInput] with the title of the one that cannot be read
        def convert(wishes, rate_hz)
          outputs = wishes.each_with_index.flat_map do |wish, at|
            ["-map", "#{at}:a:0", "-af", "aresample=resampler=soxr:precision=28", "-ar", rate_hz.to_s, "-c:a", wish[:codec], "-rf64", "auto", "-f", "wav", wish[:target]]
          end
          program("ffmpeg", "-nostdin", "-v", "error", "-y", *wishes.flat_map { |wish| ["-i", wish[:source]] }, *outputs, field: wishes.map { |wish| wish[:title] }.join(", "))
        rescue BadInput
          raise if wishes.size == 1

          # One of them is at fault: alone it says so itself.
          wishes.each { |wish| convert([wish], rate_hz) }
        end

        def source(file) = Actions::Landing.path(parts.data_folder, @import, file)
        def tally(path) = Files::Tally.of(path) { go_on! }
      end
    end
  end
end
