# frozen_string_literal: true

module Loomshuttle
  class Show
    # An order in which a song's sections are played: once, again, or not at all; audio is never copied.
    #
    # name          e.g. "Short"
    # parts         ids of sections
    # crossfade_ms  over which what would have come fades into what comes, where parts do not follow on each other
    # tail_ms       how long what would have come rings on over a seam beside that, fading out; the click does not
    Arrangement = Value.of(:name, :parts, crossfade_ms: 10, tail_ms: 0)

    class Arrangement
      CROSSFADE_MS = (0..50)
      TAIL_MS = (0..4000)

      class << self
        # @param given [Array<Hash>] string keys: name, parts, crossfade_ms
        # @param sections [Array<Hash>] of the song, as data
        # @return [Array<Arrangement>]
        # @raise [BadInput]
        def all_of(given, sections)
          known = sections.map { |section| section["id"] }
          arrangements = given.map { |one| new(**one.transform_keys(&:to_sym)) }
          twice = arrangements.map(&:name).tally.find { |_, count| count > 1 }
          raise BadInput.new(field: "arrangements", value: twice.first, allowed: "each name once") if twice

          arrangements.each { |one| refuse(one, known) }.freeze
        end

        private

        def refuse(arrangement, known)
          lost = arrangement.parts - known
          raise BadInput.new(field: "parts", value: lost.first, allowed: "sections of the song: #{known.join(", ")}") if lost.any?
          raise BadInput.new(field: "parts", value: 0, allowed: "at least one section in #{arrangement.name}") if arrangement.parts.empty?
          raise BadInput.new(field: "tail_ms", value: arrangement.tail_ms, allowed: "#{TAIL_MS.min} to #{TAIL_MS.max} ms") unless TAIL_MS.cover?(arrangement.tail_ms)
          return if CROSSFADE_MS.cover?(arrangement.crossfade_ms)

          raise BadInput.new(field: "crossfade_ms", value: arrangement.crossfade_ms, allowed: "#{CROSSFADE_MS.min} to #{CROSSFADE_MS.max} ms")
        end
      end

      # The song's first section brings what lies before it: the count-in, and how the audio begins.
      #
      # @param song [Song]
      # @return [Render::Order]
      def order(song)
        placed = song.placed_sections
        by_id = placed.to_h { |section, range| [section.id, range] }
        first = placed.first&.first&.id
        ranges = parts.filter_map { |id| by_id[id] }
        ranges[0] = 0...ranges[0].end if ranges.any? && parts.first == first
        raise BadInput.new(field: "arrangement", value: name, allowed: "sections that lie within the song's audio") if ranges.size < parts.size

        Render::Order.new(ranges: ranges.freeze, seam_frames: frames(song, crossfade_ms), tail_frames: frames(song, tail_ms))
      end

      private

      def frames(song, ms) = (ms * song.sample_rate_hz / 1000.0).round
    end
  end
end
