# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # A song's stems at another tempo, their pitch kept, beside its own: built out of sight, each to the very frame that its
      # length asks for.
      class SongTempo < Job
        def work(given)
          song = parts.songs.summary(given["song"])
          clear
          FileUtils.mkdir_p(staged(given), mode: 0o700)
          stretch = Files::Stretch.new(given["percent"], rate_hz: song.sample_rate_hz, folder: staged(given)) { |*command| program(*command, field: song.title) }
          frames = each_file(song.stems) { |stem| [stem.file, stretched(stretch, stem, given)] }.to_h
          FileUtils.rm_rf(target(given))
          File.rename(staged(given), target(given))
          finish("#{song.title} can be played at #{given["percent"]} %.") { parts.songs.tempo_ready(song.id, given["percent"], frames) }
        end

        private

        def prepare(args) = @given = args
        def clear = FileUtils.rm_rf(staged(@given))
        def folder(given) = File.join(parts.data_folder, "songs", parts.songs.folder(given["song"]).to_s)
        def target(given) = File.join(folder(given), Show::Song.folder_at(given["percent"]))
        def staged(given) = File.join(folder(given), ".#{Show::Song.folder_at(given["percent"])}")

        # @return [Integer] frames
        def stretched(stretch, stem, given)
          Rational(stem.frames * 100, given["percent"]).round.tap { |frames| stretch.write(File.join(folder(given), stem.file), File.join(staged(given), stem.file), frames: frames) }
        end
      end
    end
  end
end
