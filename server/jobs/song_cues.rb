# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # Phrases that a song wants read out, as far as they do not lie ready: one file each, beside its stems.
      class SongCues < Job
        def work(given)
          song = parts.songs.summary(given["song"])
          folder = File.join(parts.data_folder, "songs", parts.songs.folder(song.id).to_s)
          wanted = Show::SpokenCue.phrases(song).except(*song.spoken)
          FileUtils.mkdir_p(File.join(folder, "cues"), mode: 0o700)
          wanted.each_with_index do |(key, text), at|
            step(at, wanted.size, "phrases")
            Files::Speech.write(text, File.join(folder, Show::SpokenCue.file(key)), rate_hz: song.sample_rate_hz, language: Show::SpokenCue.language(song)) { |*command| program(*command, field: text) }
          end
          finish("#{wanted.size} #{(wanted.size == 1) ? "phrase" : "phrases"} spoken.") { parts.songs.spoken(song.id, wanted.keys) }
        end
      end
    end
  end
end
