# frozen_string_literal: true

module Loomshuttle
  class Show
    # Where a song that plays goes over to another of its tempi: the end of a section, in both.
    #
    #   Retimed.of(show, "low-tide-waltz", from: 100, to: 90, position: 400_000).to_a   # => [480_000, 533_333]
    #
    # at_frame  of what is played at the one tempo
    # frame     of what is played at the other, where the same section begins
    Retimed = Value.of(:at_frame, :frame)

    class Retimed
      # @param from, to [Integer] percent of its own tempo
      # @param position [Integer] frames at the one tempo, behind which it may be
      # @return [Retimed]
      # @raise [BadInput] for a tempo that does not lie ready, and where no section is left to end before another one
      def self.of(show, id, from:, to:, position:)
        now, soon = [from, to].map { |percent| show.at_tempo(id, percent) }.map { |at| Played.of(at, at.song(id)) }
        tempi = [100, *now.song.tempi.keys.map(&:to_i)].uniq.sort
        raise BadInput.new(field: "percent", value: to, allowed: tempi.join(", ")) unless soon.song.percent == to

        beginnings = [now, soon].map { |played| played.sections.map { |_, range| range.begin } }.transpose
        at = beginnings.find { |begins, _| begins > position } or
          raise BadInput.new(field: "percent", value: to, allowed: "a song with another section to come")
        new(at_frame: at.first, frame: at.last)
      end

      def to_a = [at_frame, frame]
    end
  end
end
