# frozen_string_literal: true

module Loomshuttle
  class Show
    # A song as it is played: all of it as it lies, or in the order of an arrangement.
    #
    #   Played.of(show, song).sections   # => [[#<Section verse>, 96_000...480_000], ...]
    #
    # song         Song
    # arrangement  Arrangement, nil for all of it as it lies
    # lost         name of an arrangement that the set list asks for and the song has no more; it plays as it lies
    Played = Value.of(:song, arrangement: nil, lost: nil) do
      include Value::Memo

      # @return [Render::Order, nil]
      # @raise [BadInput] for sections that do not lie within the audio
      def order = once(:order) { arrangement&.order(song) }

      # @return [Integer] frames that are played
      def frames = order ? order.frames : song.layout.frames

      # The first one begins where its bar does: what lies before is the count-in, and how the audio begins.
      #
      # @return [Array<Array(Section, Range)>] in the order in which they are played, in played frames
      def sections
        once(:sections) do
          placed = song.placed_sections
          next placed unless order

          by_id = placed.to_h { |section, range| [section.id, [section, range]] }
          ends = order.ranges.map(&:size).each_with_object([]) { |size, all| all << all.last.to_i + size }
          arrangement.parts.zip(order.ranges, ends).map { |id, range, ending| [by_id[id].first, (ending - range.end + by_id[id].last.begin)...ending] }
        end
      end

      # @return [Array<Hash>] frame and label of bar 1, where it lies as it is, and of each section
      def markers
        bar_1 = song.layout.bar_1_at unless order
        [*([{frame: bar_1, label: "bar 1"}] if bar_1), *sections.map { |section, range| {frame: range.begin, label: section.name} }]
      end
    end

    class Played
      # @param show [Show]
      # @param song [Song]
      # @return [Played] as the set list says; a song that is not in it as it lies
      def self.of(show, song)
        name = show.set_list[song.id]&.arrangement
        song.once([:played, name]) do
          found = song.arrangements.find { |one| one["name"] == name }
          new(song: song, arrangement: found && Arrangement.new(**found.transform_keys(&:to_sym)), lost: (name unless found))
        end
      end
    end
  end
end
