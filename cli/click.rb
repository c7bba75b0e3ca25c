# frozen_string_literal: true

module Loomshuttle
  module Cli
    # A click as a file, from a tempo and a time signature, or from a MIDI file's tempo map.
    #
    #   Click.new("bpm" => "127", "bars" => "16", "rate" => "44100").write("click.wav")
    class Click
      BARS = (1..Music::TempoMap::BARS_MAX)
      RATES_HZ = (8_000..384_000)
      # A night, and some.
      LONGEST_S = 12 * 3600
      private_constant :BARS, :RATES_HZ, :LONGEST_S

      # @param given [Hash{String => String}] as typed: bpm, beat, meter, map, bars, subdivide, accent, count_in, sound, level, rate
      # @raise [BadInput]
      def initialize(given)
        @given = given
        @rate_hz = whole("rate", RATES_HZ, "Hz")
        read = @given["map"] && read_map
        @map = read ? read.map : plain_map
        @click = Music::Click.new(@map, style, rate_hz: @rate_hz, to_bar: bars(read) + 1)
        raise BadInput.new(field: "bars", value: @given["bars"], allowed: "what lasts at most #{LONGEST_S / 3600} hours") if @click.frames > LONGEST_S * @rate_hz
      end

      # @return [Hash] what was written
      # @raise [SystemCallError]
      def write(path)
        raise BadInput.new(field: "out", value: path, allowed: "a file in a folder that is there") if File.directory?(path) || !File.directory?(File.dirname(path))

        Files::WavWriter.write(path, rate_hz: @rate_hz, names: ["click"], frames: @click.frames, markers: markers) { |from, count| @click.render(from, count).reshape(1, count) }
        {file: path, frames: @click.frames, sample_rate_hz: @rate_hz, clicks: @click.onsets.size, bar_1_frame: @click.bar_1_frame}
      end

      private

      # Where bar 1 is, for whoever lays it beside something.
      def markers = @click.bar_1_frame.zero? ? [] : [{frame: @click.bar_1_frame, label: "bar 1"}]

      def plain_map
        raise BadInput.new(field: "bpm", value: @given["bpm"], allowed: "a tempo, or a MIDI file with --map") unless @given["bpm"]

        Music::TempoMap.of(bpm: Music::TempoMap.bpm_of(quarters_bpm), meter: Music::Meter.parse(@given.fetch("meter", "4/4")))
      end

      # Quarter notes a minute, whatever note was counted.
      def quarters_bpm
        note = @given.fetch("beat", "1/4")
        beat = note.match?(%r{\A\d{1,2}/\d{1,2}\z}) ? Rational(note) : 0
        raise BadInput.new(field: "beat", value: note, allowed: "a note, as in 1/4, 1/8 or 3/8") unless beat.between?(Rational(1, 64), 4)

        Music::TempoMap.bpm_of(@given["bpm"]) * beat * 4
      rescue ZeroDivisionError
        raise BadInput.new(field: "beat", value: note, allowed: "a note, as in 1/4, 1/8 or 3/8")
      end

      def read_map
        both = %w[bpm meter beat].find { |name| @given[name] }
        raise BadInput.new(field: both, value: @given[both], allowed: "nothing beside --map, which brings its own") if both

        Files::MidiMap.read(File.binread(@given["map"]), File.basename(@given["map"]))
      end

      # A map goes to the bar in which its last event lies.
      def bars(read)
        return whole("bars", BARS, "bars") if @given["bars"] || read.nil?

        read.map.last_bar(read.end_quarters)
      end

      def style
        Music::Click::Style.new(accents: accents, subdivide: whole("subdivide", Music::Click::Style::SUBDIVISIONS, "clicks a beat", "1"),
          count_in_bars: whole("count_in", Music::Click::Style::COUNT_IN_BARS, "bars", "0"), sound: @given.fetch("sound", "beep"), level_db: decimal("level", "0"))
      end

      def accents
        text = @given.fetch("accent", "1")
        return [] if text == "none"

        text.split(",", -1).map { |beat| Integer(beat.strip, 10, exception: false) || raise(BadInput.new(field: "accent", value: text, allowed: "beats, as in 1,3, or none")) }
      end

      def whole(name, range, unit, otherwise = nil)
        text = @given.fetch(name, otherwise)
        number = Integer(text.to_s, 10, exception: false)
        return number if number && range.cover?(number)

        raise BadInput.new(field: name, value: text, allowed: "#{range.min} to #{range.max} #{unit}")
      end

      def decimal(name, otherwise)
        text = @given.fetch(name, otherwise)
        Float(text, exception: false)&.then { |number| number if number.finite? } || raise(BadInput.new(field: name, value: text, allowed: "a number of dB"))
      end
    end
  end
end
