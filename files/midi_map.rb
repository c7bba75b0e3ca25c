# frozen_string_literal: true

require "midilib"
require "stringio"

module Loomshuttle
  module Files
    # A tempo map as a Standard MIDI File (1.0), read and written: tempo, time signatures and markers, no notes.
    #
    #   found = MidiMap.read(File.binread("song.mid"), "song.mid")
    #   found.map           # => Music::TempoMap
    #   found.markers       # => [[(16/1), "Chorus"], ...], quarter notes from bar 1
    #   found.end_quarters  # where its last event lies
    module MidiMap
      Found = Value.of(:map, :markers, :end_quarters)

      # Ticks a quarter note that are written: thirds, fifths and sixty-fourths of a quarter are whole.
      TICKS = 960
      BYTES_MAX = 16 * 1024**2
      # MIDI's own, where a file says none.
      QUARTER_US = 500_000
      private_constant :TICKS, :BYTES_MAX, :QUARTER_US

      module_function

      # @param bytes [String]
      # @param title [String] what the file is called
      # @return [Found]
      # @raise [BadInput]
      def read(bytes, title)
        raise BadInput.new(field: title, value: "#{bytes.bytesize} bytes", allowed: "a MIDI file of at most #{BYTES_MAX} bytes") if bytes.bytesize > BYTES_MAX

        sequence = sequence_of(bytes, title)
        ticks = sequence.ppqn
        raise BadInput.new(field: title, value: "frames of a time code", allowed: "a MIDI file that counts ticks of a quarter note") unless ticks.between?(1, 0x7FFF)

        events = sequence.tracks.flat_map(&:events)
        at = ->(event) { Rational(event.time_from_start, ticks) }
        meters = meters(events.grep(MIDI::TimeSig), at, title)
        Found.new(map: map(meters, events.grep(MIDI::Tempo), at), markers: markers(events, at), end_quarters: events.map(&at).max || 0r)
      end

      # @param map [Music::TempoMap]
      # @param markers [Array<Array(Rational, String)>] quarter notes from bar 1, and text
      # @return [String] bytes; a tempo is kept to the microsecond a quarter note, as the format has it
      def write(map, markers: [])
        sequence = MIDI::Sequence.new
        sequence.ppqn = TICKS
        track = MIDI::Track.new(sequence)
        sequence.tracks << track
        events = [*map.meters.map { |bar, meter| [map.bar_start(bar), MIDI::TimeSig.new(meter.beats, Math.log2(meter.unit).to_i, 24 * 4 / meter.unit, 8)] },
          *map.steps.map { |quarters, quarter_s| [quarters, MIDI::Tempo.new((quarter_s * 1_000_000).round)] },
          *markers.map { |quarters, text| [quarters, MIDI::MetaEvent.new(MIDI::META_MARKER, text.b)] }]
        events.each { |quarters, event| track.events << event.tap { event.time_from_start = (quarters * TICKS).round } }
        track.events.sort_by!.with_index { |event, at| [event.time_from_start, at] }
        track.recalc_delta_from_times
        StringIO.new(+"".b).tap { |io| MIDI::IO::SeqWriter.new(sequence).write_to(io) }.string
      end

      def sequence_of(bytes, title)
        raise BadInput.new(field: title, value: bytes[0, 4].to_s, allowed: "a Standard MIDI File") unless bytes.start_with?("MThd")

        MIDI::Sequence.new.tap { |sequence| sequence.read(StringIO.new(bytes)) }
      # Of a damaged file the library says all kinds of things.
      rescue BadInput
        raise
      rescue => e
        raise BadInput.new(field: title, value: e.message.lines.first.to_s.strip[0, 100], allowed: "a Standard MIDI File that is whole")
      end

      # @return [Array<Array(Integer, Music::Meter)>] by bar
      def meters(events, at, title)
        changes = events.sort_by { |event| at[event] }.map { |event| [at[event], meter(event, title)] }
        changes.unshift([0r, Music::Meter.new(beats: 4, unit: 4)]) unless changes.dig(0, 0)&.zero?
        bar, from, before = 1, 0r, nil
        changes.each_with_object([]) do |(quarters, meter), all|
          bars = before ? (quarters - from) / before.bar_quarters : 0r
          raise BadInput.new(field: title, value: "a time signature within bar #{bar + bars.floor}", allowed: "time signatures that change at a bar") unless bars.denominator == 1

          bar, from, before = bar + bars.to_i, quarters, meter
          all.pop if all.any? && all.last.first == bar
          all << [bar, meter].freeze
        end
      end

      def meter(event, title)
        Music::Meter.parse("#{event.numerator}/#{2**event.denominator.clamp(0, 30)}")
      rescue BadInput
        raise BadInput.new(field: title, value: "#{event.numerator}/2^#{event.denominator}", allowed: "time signatures of notes up to 1/64")
      end

      def map(meters, events, at)
        bare = Music::TempoMap.new(meters: meters.freeze, tempi: [Music::TempoMap::Tempo.new(bar: 1, bpm: 120r)])
        changes = events.sort_by { |event| at[event] }.to_h { |event| [at[event], Rational(60_000_000, [event.tempo, 1].max)] }
        changes = {0r => Rational(60_000_000, QUARTER_US), **changes}.sort
        tempi = changes.map do |quarters, bpm|
          bar, = bare.place(quarters)
          {"bar" => bar, "quarters" => (quarters - bare.bar_start(bar)).to_s, "bpm" => bpm}
        end
        Music::TempoMap.from_h("meters" => meters.map { |bar, meter| {"bar" => bar, "meter" => meter.to_s} }, "tempi" => tempi)
      end

      def markers(events, at)
        marks = events.select { |event| event.is_a?(MIDI::MetaEvent) && event.meta_type == MIDI::META_MARKER }
        marks.map { |event| [at[event], event.data_as_str.dup.force_encoding("UTF-8").scrub("?")] }.sort_by(&:first)
      end
      private_class_method :sequence_of, :meters, :meter, :map, :markers
    end
  end
end
