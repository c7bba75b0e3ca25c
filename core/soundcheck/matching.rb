# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Puts the files of a recording made elsewhere on the tracks that their names say, with how well each fits
    # and why. A stereo file goes to the two sides of a pair, a file of more channels to what its channels are
    # called, or to the tracks of their numbers.
    #
    #   Matching.match(tracks, [{name: 1, title: "01_hurdy gurdy.wav", channels: 1}])
    module Matching
      # Under this a name says nothing.
      LOWEST = 0.45
      # Sure is what fits so well, and better than anything else by so much.
      SURE = 0.78
      AHEAD = 0.12
      # Files of a folder have a word in common that says nothing when so many of them have it.
      COMMON = 0.8
      COMMON_FILES = 4
      # Where so many sure ones carry the number of their track, and nearly all that carry any, the numbers are the tracks'.
      NUMBERED = 4
      AGREE = 0.9
      BY_NUMBER = 0.6
      private_constant :LOWEST, :SURE, :AHEAD, :COMMON, :COMMON_FILES, :NUMBERED, :AGREE, :BY_NUMBER

      # A channel of a file with what it is called; listed where only their own list calls it so.
      Part = Value.of(:file, :channel, :title, :take, listed: nil)

      module_function

      # @param tracks [Array<Capture::Track>]
      # @param files [Array<Hash>] {name:, channels:, title: what it was called, if not so, names: of its
      #   channels, if it tells}
      # @param take [Integer, nil] of several in one folder; nil takes the newest
      # @param known [Hash{String => String}] key of a file's channel => track, as somebody settled it in a folder of before
      # @param list [Hash{Integer => String}] what those who sent the files call their channels
      # @return [Hash] matched: [{file:, channel:, track:, score:, why:, sure:}], loose: [{file:, channel:, why:}]
      #   that no name claims, unfilled: [track id], takes: numbers of the takes that lie in one folder, none where it is one
      #   only, take: which of them is matched
      def match(tracks, files, take: nil, known: {}, list: {})
        parts = parts(files).map { |part| listed(part, list) }
        takes = parts.filter_map(&:take).uniq.sort
        chosen = takes.include?(take) ? take : takes.last
        now, old = parts.partition { |part| part.take == chosen || part.take.nil? }
        scores = scores(now, tracks)
        found = settled(now, tracks, scores, before(now, tracks, known))
        {matched: found.sort_by { |one| now.index { |part| [part.file, part.channel] == one.values_at(:file, :channel) } },
         loose: loose(now, found) + old.map { |part| {file: part.file, channel: part.channel, why: "take #{part.take}"} },
         unfilled: tracks.map(&:id) - found.map { |one| one[:track] }, takes: takes, take: chosen}
      end

      # @return [Array<Part>]
      def parts(files)
        titles = files.to_h { |file| [file[:name], (file[:title] || file[:name]).to_s] }
        words = titles.transform_values { |title| Title.split(title) }
        takes = takes(words)
        drop = common(words, takes)
        files.flat_map do |file|
          text = takes[file[:name]] ? Title.split(titles[file[:name]])[0..-2].join(" ") : titles[file[:name]]
          (1..file[:channels]).map { |channel| Part.new(file: file[:name], channel: channel, title: channel_title(text, file, channel, drop), take: takes[file[:name]]) }
        end
      end

      # A number alone is what their list calls it; what their list does not know has no number of ours.
      def listed(part, list)
        return part if list.empty? || part.title.named?

        number = part.title.number || part.title.index
        name = list[number].to_s.strip
        name.empty? ? part.with(title: part.title.with(number: nil, index: nil)) : part.with(title: Title.of(name), listed: "#{number} is \"#{name}\" in their list")
      end

      def channel_title(text, file, channel, drop)
        name = file[:names].to_a[channel - 1].to_s
        return Title.of(name) unless name.strip.empty?
        return Title.of(text, drop: drop) if file[:channels] == 1
        return Title.of(text, drop: drop).with(side: {1 => :left, 2 => :right}[channel]) if file[:channels] == 2

        Title.new(words: [].freeze, side: nil, number: channel, index: nil)
      end

      # Several takes in one folder: the same names again and again, each with another number behind.
      #
      # @param words [Hash{Object => Array<String>}] of each file
      # @return [Hash{Object => Integer}] file => number of its take; empty where there is one only
      def takes(words)
        numbered = words.select { |_, some| some.size > 1 && some.last.match?(/\A\d+\z/) }
        names = numbered.group_by { |_, some| some[0..-2] }
        return {} if numbered.size < words.size * COMMON || names.values.count { |some| some.size > 1 } < names.size / 2.0
        # "Tom 1" and "Tom 2" are one name with two numbers; takes have the same numbers for most names.
        return {} if names.size < 2 || names.values.map { |some| some.map { |_, all| all.last.to_i }.sort }.tally.values.max < names.size / 2.0

        numbered.transform_values { |some| some.last.to_i }
      end

      # Words that nearly every file has at the same end: the show's name, a date, the take.
      def common(words, takes)
        return [] if words.size < COMMON_FILES

        most = words.size * COMMON
        words.flat_map { |file, some| (takes[file] ? some[0..-2] : some).uniq }.tally.select { |_, count| count >= most }.keys
      end

      # @return [Hash{Integer => Array}] of each part [[score, why, place of the track], ...], best first
      def scores(parts, tracks)
        likeness = Likeness.new
        titles = tracks.map { |track| Title.of(track.name) }
        near = near(titles, likeness)
        parts.each_index.to_h do |at|
          title = parts[at].title
          candidates = title.named? ? title.words.flat_map { |word| near[word] }.uniq : tracks.each_index
          found = candidates.filter_map do |track|
            score, why = likeness.of(title, titles[track], tracks[track].number)
            [score, [parts[at].listed, why].compact.join(": "), track] if score >= LOWEST
          end
          [at, found.sort_by { |score, _, track| [-score, track] }]
        end
      end

      # Names are no better than the best of their words: only tracks with one that comes near are looked at.
      #
      # @return [Hash{String => Array<Integer>}] a file's word => places of tracks
      def near(titles, likeness)
        holding = titles.each_index.with_object({}) { |track, all| titles[track].words.each { |word| (all[word] ||= []) << track } }
        Hash.new { |known, word| known[word] = holding.flat_map { |other, places| (likeness.words(word, other).first >= LOWEST) ? places : [] } }
      end

      # What names a file's channel whichever folder it comes in: without what all names there share, without take numbers.
      #
      # @param files [Array<Hash>] as for match, and list
      # @return [Hash{Array(Object, Integer) => String}] by file and channel
      def keys(files, list = {}) = parts(files).map { |part| listed(part, list) }.to_h { |part| [[part.file, part.channel], key(part)] }

      def key(part) = part.title.then { |title| [*title.words, title.side, title.index, (title.number unless title.named?)].compact.join(" ") }

      # Each track once: of two files with one key neither is known.
      #
      # @return [Hash{Integer => Integer}] place of the part => place of the track
      def before(parts, tracks, known)
        places = tracks.each_index.to_h { |at| [tracks[at].id, at] }
        keys = parts.map { |part| key(part) }
        once = keys.tally.select { |_, count| count == 1 }
        found = keys.each_index.filter_map { |at| [at, places[known[keys[at]]]] if once.key?(keys[at]) && places.key?(known[keys[at]]) }
        found.uniq(&:last).to_h
      end

      # What was settled before, then the best pair, then the best of the rest; each file and each track once.
      def settled(parts, tracks, scores, before)
        taken, done = {}, {}
        before.each do |at, track|
          taken[track] = done[at] = {file: parts[at].file, channel: parts[at].channel, track: tracks[track].id, score: 1.0, why: "settled so before", sure: true}
        end
        pairs = scores.flat_map { |at, found| found.map { |score, why, track| [score, at, track, why] } }.sort_by { |score, at, track, _| [-score, at, track] }
        by_track = pairs.group_by { |_, _, track, _| track }
        pairs.each do |score, at, track, why|
          next if taken[track] || done[at]

          other = [scores[at].find { |_, _, one| one != track }&.first, by_track[track].find { |_, one, _, _| one != at }&.first].compact.max
          taken[track] = done[at] = {file: parts[at].file, channel: parts[at].channel, track: tracks[track].id, score: score.round(2), why: why, sure: sure?(score, other)}
        end
        numbered(parts, tracks, done)
        done.values
      end

      # Numbers that agree with the names all through a folder say whom a name does not, and that a guess is none.
      def numbered(parts, tracks, done)
        number = tracks.to_h { |track| [track.id, track.number] }
        agrees = done.select { |at, one| parts[at].title.number == number[one[:track]] }
        sure = done.select { |at, one| one[:sure] && parts[at].title.number }
        agreeing = sure.keys.count { |at| agrees.key?(at) }
        return if agreeing < NUMBERED || agreeing < sure.size * AGREE

        agrees.each_value { |one| one.update(sure: true, why: "#{one[:why]}, and its number") unless one[:sure] }
        free = tracks.to_h { |track| [track.number, track] }.except(*done.values.map { |one| number[one[:track]] })
        parts.each_with_index do |part, at|
          track = free[part.title.number] unless done[at] || part.title.index
          next unless track && [part.title.side, Title.of(track.name).side].compact.uniq.size < 2

          done[at] = {file: part.file, channel: part.channel, track: free.delete(track.number).id, score: BY_NUMBER, why: "its number, as all the others", sure: false}
        end
      end

      # @param other [Float, nil] how well the next best fits, of what else the file or the track could have
      def sure?(score, other) = score >= SURE && (other || 0) <= score - AHEAD

      def loose(parts, found)
        known = found.to_set { |one| one.values_at(:file, :channel) }
        parts.map { |part| [part.file, part.channel] }.reject { |key| known.include?(key) }.map { |file, channel| {file: file, channel: channel, why: "no track is called so"} }
      end
      private_class_method :parts, :listed, :channel_title, :takes, :common, :scores, :near, :key, :before, :settled, :numbered, :sure?, :loose
    end
  end
end
