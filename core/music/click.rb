# frozen_string_literal: true

module Loomshuttle
  module Music
    # A song's click, made of its tempo map: which beats sound, how they are divided, and how many bars are counted in.
    #
    #   click = Click.new(map, Click::Style.new, rate_hz: 44_100, to_bar: 9)
    #   click.onsets            # => [[0, :accent], [20_835, :beat], ...]
    #   click.render(0, 1024)   # => Numo::SFloat [1024], full scale 1
    #
    # Frame 0 is where it begins: the count-in, where there is one.
    class Click
      # What the sound is called that is made of what somebody brought.
      OWN = "own"

      # accents        beats of a bar, from 1, that are accented; none for no accent at all
      # subdivide      clicks a beat
      # pace           "half" clicks every other beat, "double" twice a beat
      # count_in_bars  before bar 1, in its tempo and time signature
      # sound          of ClickSounds::NAMES, or OWN
      # only           [first bar, first bar behind or nil] of each stretch in which alone it sounds, beside the count-in; nil
      #   for all of it
      # level_db       of all of it; subdivision_db, of what divides beats beside that
      Style = Value.of(accents: [1].freeze, subdivide: 1, pace: "whole", count_in_bars: 0, sound: "beep", level_db: 0.0, subdivision_db: 0.0,
        only: nil)

      class Style
        SUBDIVISIONS = (1..12)
        PACES = {"half" => 2, "whole" => 1, "double" => 1}.freeze
        COUNT_IN_BARS = (0..16)
        LEVELS_DB = (-60.0..12.0)

        # @return [Style]
        # @raise [BadInput]
        def checked(map)
          beats = map.meters.map { |_, meter| meter.beats }.max
          wrong = accents.find { |beat| !beat.is_a?(Integer) || !beat.between?(1, beats) }
          raise BadInput.new(field: "accent", value: wrong, allowed: "beats 1 to #{beats}, or none") if wrong

          refuse("subdivide", subdivide, SUBDIVISIONS, "clicks a beat")
          refuse("count_in", count_in_bars, COUNT_IN_BARS, "bars")
          refuse("level_db", level_db, LEVELS_DB, "dB")
          refuse("subdivision_db", subdivision_db, LEVELS_DB, "dB")
          raise BadInput.new(field: "pace", value: pace, allowed: PACES.keys.join(", ")) unless PACES.key?(pace)
          raise BadInput.new(field: "sound", value: sound, allowed: [*ClickSounds::NAMES, OWN].join(", ")) unless [*ClickSounds::NAMES, OWN].include?(sound)

          self
        end

        private

        def refuse(field, value, range, unit)
          raise BadInput.new(field: field, value: value, allowed: "#{range.min} to #{range.max} #{unit}") unless range.cover?(value)
        end
      end

      attr_reader :rate_hz

      # @param to_bar [Integer] where it ends: the first bar that has no click any more
      # @param brought [Hash{Symbol => Numo::SFloat}, nil] what an OWN sound is made of, see ClickSounds.own
      # @raise [BadInput]
      def initialize(map, style, rate_hz:, to_bar:, brought: nil)
        @map, @style, @rate_hz = map, style.checked(map), rate_hz
        @first_bar, @to_bar = 1 - style.count_in_bars, to_bar
        @origin_s = map.seconds(map.bar_start(@first_bar))
        @sounds = sounds(brought)
        @bars = {}
      end

      # @return [Integer] of all of it: its last bar is whole
      def frames = frame(@map.bar_start(@to_bar))

      # @return [Integer] where bar 1 begins, behind the count-in
      def bar_1_frame = frame(0)

      # @return [Array<Array(Integer, Symbol)>] frame and kind (:accent, :beat, :part) of every click
      def onsets = (@first_bar...@to_bar).flat_map { |bar| of_bar(bar) }

      # @return [Numo::SFloat] [count]
      def render(from, count)
        out = Numo::SFloat.zeros(count)
        around(from, count).each_cons(2) do |(at, kind), (following, _)|
          sound = @sounds[kind]
          first, last = [at, from].max, [at + sound.size, following, from + count].min
          out[(first - from)...(last - from)] = sound[(first - at)...(last - at)] if first < last
        end
        out
      end

      private

      def frame(quarters) = ((@map.seconds(quarters) - @origin_s) * @rate_hz).round

      def sounds(brought)
        levels = {accent: 0.0, beat: 0.0, part: @style.subdivision_db}
        raise BadInput.new(field: "sound", value: OWN, allowed: "a sound that is brought, for the beat at least") if @style.sound == OWN && !brought&.key?(:beat)

        made = (@style.sound == OWN) ? ClickSounds.own(brought) : ClickSounds.of(@style.sound, @rate_hz)
        made.to_h { |kind, sound| [kind, sound * Audio::Scale.ratio(@style.level_db + levels[kind])] }
      end

      # Clicks that may sound in a stretch, and the one behind them: each ends where the next begins.
      def around(from, count)
        first = bar_at(from - @sounds.values.map(&:size).max)
        found = []
        (first...@to_bar).each do |bar|
          found.concat(of_bar(bar))
          break if found.any? && found.last.first >= from + count
        end
        found << [Float::INFINITY, nil]
      end

      def bar_at(frame)
        bar, = @map.place(@map.quarters(@origin_s + Rational(frame, @rate_hz)))
        [bar, @first_bar].max
      end

      def of_bar(bar) = @bars[bar] ||= (sounds?(bar) ? clicks(bar) : []).map { |quarters, kind| [frame(quarters), kind] }.freeze

      def sounds?(bar) = @style.only.nil? || bar < 1 || @style.only.any? { |from, to| bar >= from && (to.nil? || bar < to) }

      # @return [Array<Array(Rational, Symbol)>] quarters and kind
      def clicks(bar)
        start, meter = @map.bar_start(bar), @map.meter(bar)
        (1..meter.beats).step(Style::PACES.fetch(@style.pace)).flat_map do |beat|
          at = start + (beat - 1) * meter.beat_quarters
          clicks_of_beat(at, meter.beat_quarters, @style.accents.include?(beat) ? :accent : :beat)
        end
      end

      def clicks_of_beat(at, beat_quarters, kind)
        kinds = [kind, *([:part] * (@style.subdivide - 1))]
        kinds += [:beat, *kinds.drop(1)] if @style.pace == "double"
        kinds.map.with_index { |one, part| [at + part * beat_quarters / kinds.size, one] }
      end
    end
  end
end
