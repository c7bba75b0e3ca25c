# frozen_string_literal: true

module Loomshuttle
  class Show
    # One phrase that is read out to the band, or a sound that somebody brought, and where.
    #
    # at_frame  of what is played: an arrangement announces what comes next in it
    # sound     id of an OwnSound that is heard in place of the phrase
    SpokenCue = Value.of(:text, :language, :at_frame, sound: nil) do
      def key = self.class.key(text, language)
      # Below the song's folder.
      def file = self.class.file(key)
    end

    class SpokenCue
      class << self
        def key(text, language) = Digest::SHA256.hexdigest("#{language}\n#{text}")[0, 16]
        def file(key) = "cues/#{key}.wav"

        # All that may be read out in a song, whatever its arrangement.
        #
        # @param song [Song]
        # @return [Hash{String => String}] key => text
        def phrases(song)
          return {} unless song.cues?

          texts = [*(song.sections.map { |section| section["name"] } if song.cues["sections"]), *(numbers(song) if counts?(song)), *song.cues.fetch("said", []).reject { |said| said["sound"] }.map { |said| said["text"] }]
          texts.uniq.to_h { |text| [key(text, language(song)), text] }
        end

        def language(song) = song.cues["language"] || "en-gb"

        # Those that lie ready as files.
        #
        # @param played [Played]
        # @return [Array<SpokenCue>] in the order in which they sound
        def of(played)
          song = played.song
          return [] unless song.cues?

          found = [*(sections(played) if song.cues["sections"]), *(count_in(played) if counts?(song)), *said(played)]
          cues = found.map { |text, at, sound| new(text: text, language: language(song), at_frame: at, sound: sound) }
          cues.select { |cue| (cue.sound || song.spoken.include?(cue.key)) && cue.at_frame < played.frames }.sort_by(&:at_frame)
        end

        private

        def counts?(song) = song.cues["count_in"] && song.count_in_bars.positive?
        def numbers(song) = (1..song.map.meter(0).beats).map(&:to_s)
        def frame(song, bar) = song.layout.bar_1_at + song.map.frame(song.map.bar_start(bar), song.sample_rate_hz)

        # Each name a bar before: the last bar of what is played before it.
        def sections(played)
          song = played.song
          counted = counts?(song) ? 1 : 0
          played.sections.each_with_index.filter_map do |(section, range), at|
            ending = (played.order && at.positive?) ? played.order.ranges[at - 1].end : frame(song, section.bar)
            # The bar that is counted is counted.
            bar = bar_before(song, ending) - ((section.bar == 1 && at.zero?) ? counted : 0)
            lead = ending - frame(song, bar)
            [section.name, range.begin - lead] if range.begin >= lead && bar > -song.count_in_bars
          end
        end

        # The bar that ends at a frame, or that is cut short there.
        def bar_before(song, ending) = Render::Bars.new(map: song.map, at_frame: song.layout.bar_1_at).place(ending - 1, song.sample_rate_hz).first

        # A number on each beat of the bar before bar 1, where that is played.
        def count_in(played)
          song = played.song
          return [] if played.order && played.order.ranges.first.begin.positive?

          meter = song.map.meter(0)
          (1..meter.beats).map { |beat| [beat.to_s, song.layout.bar_1_at + song.map.frame(song.map.bar_start(0) + (beat - 1) * meter.beat_quarters, song.sample_rate_hz)] }
        end

        # At their bars, as often as these are played.
        def said(played)
          played.song.cues.fetch("said", []).flat_map { |said| times(played, frame(played.song, said["bar"])).map { |at| [said["text"], at, said["sound"]] } }
        end

        def times(played, plain)
          return [plain] unless played.order

          starts = played.order.ranges.map(&:size).each_with_object([0]) { |size, all| all << all.last + size }
          played.order.ranges.zip(starts).filter_map { |range, start| start + plain - range.begin if range.cover?(plain) }
        end
      end
    end
  end
end
