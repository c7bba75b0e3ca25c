# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # Makes a take of an import: its files side by side in a folder of their own, levels and waveforms worked
      # out, and the row last.
      class ImportTake < OfImport
        def work(given)
          import!
          return finish {} if made?

          clear
          FileUtils.mkdir_p(staged, mode: 0o700)
          @rate_hz = given["rate_hz"]
          placed = given["places"].group_by { |place| place["file"] }
          files = parts.imports.files(@import[:id]).select { |file| placed.key?(file[:number]) }
          names = Loomshuttle::Capture::FileName.all_imported(files.map { |file| file[:title] })
          rows = each_handful(handfuls(files.zip(names)) { |file, _| file[:bytes] }) do |handful|
            fetch(handful)
            handful.map { |file, name| rows(file, name, placed[file[:number]]) }
          end.flatten
          File.binwrite(File.join(staged, "take.overview"), Loomshuttle::Capture::Overview.of(rows.sort_by! { |row| row[:track] }.map { |row| row.delete(:extremes) }))
          keep(given["name"], rows)
        end

        private

        def uid = "import-#{@import[:uid]}"
        def made? = !parts.takes.id_of(uid).nil?
        # Out of sight of whoever looks for takes, on the same disk.
        def staged = File.join(parts.takes_folder, ".making-#{@import[:uid]}")
        def remains = [staged, File.join(parts.takes_folder, folder)]
        def folder = "#{parts.shows.place(@import[:show_id])[:folder]}/import-#{@import[:uid][0, 8]}"

        # @param handful [Array<Array(Hash, String)>] files, with their names here
        def fetch(handful)
          as_they_are, others = handful.partition { |file, _| file[:holds]["sample_rate_hz"] == @rate_hz }
          as_they_are.each { |file, name| copy(source(file), File.join(staged, name)) }
          convert(others.map { |file, name| {source: source(file), target: File.join(staged, name), codec: codec(file), title: file[:title]} }, @rate_hz) if others.any?
        end

        # @return [Array<Hash>] rows of take_files, with the extremes of each
        def rows(file, name, places)
          target = File.join(staged, name)
          tally = tally(target)
          places.map do |place|
            channel = place["channel"]
            {track: place["track"], file: name, channel: channel, at_frames: place["at_frames"] || 0, name: file[:title].sub(/\.\w+\z/, ""), frames: tally.frames, bytes: File.size(target),
             report: tally.report(channel), extremes: behind(place["at_frames"] || 0, tally.extremes(channel))}
          end
        end

        # The waveform of a file that begins later, to the block.
        def behind(at_frames, extremes)
          blocks = (at_frames / Files::Tally::BLOCK_FRAMES.to_f).round
          blocks.zero? ? extremes : Numo::Int16.vstack([Numo::Int16.zeros(blocks, 2), extremes])
        end

        # An upload's file is here already: no second copy of it. What comes from another disk is copied.
        def copy(source, target)
          File.link(source, target)
        rescue SystemCallError
          FileUtils.cp(source, target)
        end

        # 24 bit stay 24 bit, float stays float.
        def codec(file) = (file[:holds]["encoding"] == "float") ? "pcm_f32le" : "pcm_s24le"

        def keep(name, rows)
          final = File.join(parts.takes_folder, folder)
          FileUtils.mkdir_p(File.dirname(final), mode: 0o700)
          File.rename(staged, final)
          finish("The take is there.") do
            take = {show_id: @import[:show_id], uid: uid, folder: folder, name: (name unless name.to_s.empty?), origin: "imported",
                    sample_rate_hz: @rate_hz, frames: rows.map { |row| row[:at_frames] + row[:frames] }.max,
                    bytes: rows.uniq { |row| row[:file] }.sum { |row| row[:bytes] }, state: "closed"}
            parts.takes.create(take, rows.map { |row| row.except(:bytes) })
            parts.imports.state(@import[:id], "made")
          end
          FileUtils.rm_rf(uploads)
        end
      end
    end
  end
end
