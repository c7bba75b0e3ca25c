# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A stereo stem on one lane whose sides cancel, or go over full scale by the law that was chosen.
    module Fold
      # Sides that have nothing to do with each other lose nothing; from here on something is missing (common practice).
      CANCELS_DB = -3.0
      WHY = "On one lane both sides are summed: what is in one turned round in the other is gone, whatever its level."
      OVER_WHY = "What goes over full scale is cut off, and everybody hears that."
      private_constant :CANCELS_DB, :WHY, :OVER_WHY

      module_function

      def findings(show) = show.songs.flat_map { |song| song.stems.filter_map { |stem| of_stem(show, song, stem) } }

      def of_stem(show, song, stem)
        return nil if stem.channels < 2 || stem.sides_db.nil?

        playing = Show::PlayingRole.of(show, stem.role, song.id)
        levels = [(0.0 if playing.slots.one?), *playing.also.filter_map { |slots, level_db| level_db if slots.one? }].compact
        return nil if levels.empty?
        return cancels(song, stem) if stem.sides_db < CANCELS_DB

        over_db = stem.sum_peak_dbfs + playing.fold_db + playing.gain_db + levels.max + (show.set_list[song.id]&.trim_db || 0.0)
        over(song, stem, playing, over_db) if over_db.positive?
      end

      def cancels(song, stem)
        Finding.new(rule: "fold", severity: "warn", step: "tracks", title: "#{stem.name} of #{song.title} loses #{-stem.sides_db.round(1)} dB on one lane",
          what: "The two sides of #{stem.name} cancel: summed they have #{-stem.sides_db.round(1)} dB less power than side by side. Lay #{stem.role} on two lanes, or bounce that stem in mono.", why: WHY,
          variant: "cancels", about: stem.sides_db, endpoints: ["#{song.id}/#{stem.file}"])
      end

      def over(song, stem, playing, over_db)
        Finding.new(rule: "fold", severity: "warn", step: "tracks", title: "#{stem.name} of #{song.title} goes over by #{over_db.round(1)} dB on one lane",
          what: "Summed at #{playing.fold_db} dB a side, and with its level and trim, #{stem.name} goes #{over_db.round(1)} dB over full scale.", why: OVER_WHY, variant: "over", about: over_db.round(1),
          endpoints: ["#{song.id}/#{stem.file}"], mend: mend(stem, playing, over_db))
      end

      # The level of the role goes down by as much as it is over.
      def mend(stem, playing, over_db)
        gain_db = ((playing.gain_db - over_db) * 10 + 1e-6).floor / 10.0
        return nil unless Show::Terms::GAIN_DB.cover?(gain_db)

        Mend.new(label: "Mend: #{stem.role} at #{gain_db} dB", edits: [Edits::SetRoleTerms.new(role: stem.role, gain_db: gain_db)])
      end
      private_class_method :of_stem, :cancels, :over, :mend
    end
  end
end
