# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Where the bars of songs lie in a take that was recorded while they played: it was marked then with each song and with
    # each section as it began, whatever was jumped or gone round. A bar is counted from the section that it is in.
    #
    #   BarsInTake.frame(show, take[:marks], 17, near: 480_000)   # => 1_411_200
    module BarsInTake
      module_function

      # @param marks [Array<Hash>] "frame" of the take, "label"
      # @param near [Integer] frame of the take: the song that plays there is meant, else the first
      # @return [Integer] frame of the take at which the bar begins, the first time that it was played
      # @raise [BadInput]
      def frame(show, marks, bar, near:)
        titled = show.library.values.to_h { |song| [song.title, song.id] }
        ordered = marks.sort_by { |mark| mark["frame"] }
        begins = ordered.select { |mark| titled.key?(mark["label"]) }
        raise refusal(bar, "a take in which songs of this show were played; this one is marked with none") if begins.empty?

        at = begins.rindex { |mark| mark["frame"] <= near } || 0
        ends = begins[at + 1]&.fetch("frame") || Float::INFINITY
        song = show.song(titled.fetch(begins[at]["label"]))
        found(song, ordered.select { |mark| mark["frame"] >= begins[at]["frame"] && mark["frame"] < ends }, bar, ends) ||
          raise(refusal(bar, "a bar of #{song.title} that was played in this take#{", 1 to #{song.last_bar}" if song.map}"))
      end

      # @param marks [Array<Hash>] the song's own first, then those while it played
      def found(song, marks, bar, ends)
        return nil unless song.map && bar >= 1

        plain = song.layout.bar_1_at + song.map.frame(song.map.bar_start(bar), song.sample_rate_hz)
        sections = song.placed_sections.to_h { |section, range| [section.name, range] }
        marked = marks.drop(1).filter_map { |mark| sections[mark["label"]]&.then { |range| [mark, range] } }
        # A song that had no sections yet when it played is counted from its beginning.
        placed = [[marks.first, 0...(marked.empty? ? song.layout.frames : sections.values.map(&:begin).min)], *marked]
        placed.zip(placed.drop(1)).filter_map { |(mark, range), following|
          frame = mark["frame"] + plain - range.begin
          frame if range.cover?(plain) && frame < (following ? following.first["frame"] : ends)
        }.first
      end

      def refusal(bar, allowed) = BadInput.new(field: "bar", value: bar, allowed: allowed)
      private_class_method :found, :refusal
    end
  end
end
