# frozen_string_literal: true

module Loomshuttle
  module Music
    # Where each bar and beat of a song lies in time: tempo and time signature with all their changes. Positions are
    # quarter notes from the first beat of bar 1, times are seconds from there; both are exact, whoever wants frames
    # rounds once.
    #
    #   map = TempoMap.of(bpm: 127)
    #   map.seconds(4)              # => (240/127), where bar 2 begins
    #   map.frame(4, 44_100)        # => 83339
    #   map.place(Rational(9, 2))   # => [2, 1, (1/2)]: bar, beat, part of the beat
    #
    # meters        [[bar, Meter], ...] by bar, the first at 1
    # tempi         [Tempo, ...] in their order, the first at bar 1
    # pickup_beats  that sound before bar 1
    #
    # A ramp goes from its tempo to that of the next change in steps of a beat, each as fast as the straight line is in
    # its middle: exact in fractions, as a curve would not be, and what a Standard MIDI File can hold.
    class TempoMap < Value.of(:meters, :tempi, pickup_beats: 0)
      include Value::Memo

      # Quarter notes a minute.
      BPM = (5..999)
      BARS_MAX = 20_000

      # bar and quarters into it; ramp: whether it changes evenly up to the next one
      Tempo = Value.of(:bar, :bpm, quarters: 0r, ramp: false)
      # A stretch of one tempo.
      Segment = Struct.new(:quarters, :seconds, :quarter_s)
      # A stretch of one time signature.
      Measure = Struct.new(:bar, :quarters, :meter)
      private_constant :Segment, :Measure

      class << self
        # One tempo and one time signature throughout.
        #
        # @param bpm [Numeric, String] quarter notes a minute
        # @raise [BadInput]
        def of(bpm:, meter: Meter.new(beats: 4, unit: 4), pickup_beats: 0)
          checked(new(meters: [[1, meter].freeze].freeze, tempi: [Tempo.new(bar: 1, bpm: bpm_of(bpm))].freeze, pickup_beats: pickup_beats))
        end

        # @param data [Hash] string keys: meters [{"bar", "meter"}], tempi [{"bar", "bpm", "quarters", "ramp"}], pickup_beats
        # @raise [BadInput]
        def from_h(data)
          meters = data.fetch("meters").map { |one| [one.fetch("bar"), Meter.parse(one.fetch("meter"))].freeze }
          tempi = data.fetch("tempi").map do |one|
            Tempo.new(bar: one.fetch("bar"), bpm: bpm_of(one.fetch("bpm")), quarters: one.fetch("quarters", 0).to_s.to_r, ramp: one.fetch("ramp", false))
          end
          checked(new(meters: meters.freeze, tempi: tempi.freeze, pickup_beats: data.fetch("pickup_beats", 0)))
        end

        # A decimal number is what it says, not the binary fraction next to it.
        #
        # @return [Rational]
        # @raise [BadInput]
        def bpm_of(given)
          bpm = Rational(given.is_a?(Float) ? given.to_s : given)
          return bpm if BPM.cover?(bpm)

          raise BadInput.new(field: "bpm", value: given, allowed: "#{BPM.min} to #{BPM.max} quarter notes a minute")
        rescue ArgumentError, FloatDomainError, TypeError, ZeroDivisionError
          raise BadInput.new(field: "bpm", value: given, allowed: "#{BPM.min} to #{BPM.max} quarter notes a minute")
        end

        private

        def checked(map)
          refuse_order("meters", map.meters.map { |bar, _| [bar, 0] })
          refuse_order("tempi", map.tempi.map { |tempo| [tempo.bar, tempo.quarters] })
          late = map.tempi.find { |tempo| !(0...map.meter(tempo.bar).bar_quarters).cover?(tempo.quarters) }
          raise BadInput.new(field: "quarters", value: late.quarters, allowed: "a place within bar #{late.bar}") if late
          return map if (0..map.meters.first.last.beats).cover?(map.pickup_beats)

          raise BadInput.new(field: "pickup_beats", value: map.pickup_beats, allowed: "0 to the #{map.meters.first.last.beats} beats of a bar")
        end

        def refuse_order(field, places)
          ascending = places.each_cons(2).all? { |one, other| (one <=> other).negative? }
          return if places.first == [1, 0] && ascending && places.last.first.between?(1, BARS_MAX)

          raise BadInput.new(field: field, value: places.map(&:first).join(", "), allowed: "changes at rising bars of 1 to #{BARS_MAX}, the first at bar 1")
        end
      end

      # The same map at another speed.
      #
      # @param percent [Integer]
      # @return [TempoMap, nil] nil where that is no tempo any more
      def at_percent(percent)
        faster = tempi.map { |tempo| tempo.with(bpm: tempo.bpm * Rational(percent, 100)) }
        with(tempi: faster.freeze) if faster.all? { |tempo| BPM.cover?(tempo.bpm) }
      end

      # @return [Hash] what `from_h` takes, string keys
      def to_data
        {"meters" => meters.map { |bar, meter| {"bar" => bar, "meter" => meter.to_s} },
         "tempi" => tempi.map { |tempo| {"bar" => tempo.bar, "bpm" => plain(tempo.bpm), "quarters" => plain(tempo.quarters), "ramp" => tempo.ramp} },
         "pickup_beats" => pickup_beats}
      end

      # @param quarters [Rational, Integer] from bar 1; below 0 at the first tempo
      # @return [Rational] seconds
      def seconds(quarters)
        segment = at(segments, quarters, :quarters)
        segment.seconds + (quarters - segment.quarters) * segment.quarter_s
      end

      # @param seconds [Rational, Integer]
      # @return [Rational] quarter notes
      def quarters(seconds)
        segment = at(segments, seconds, :seconds)
        segment.quarters + (seconds - segment.seconds) / segment.quarter_s
      end

      # @return [Integer] rounded from the exact time
      def frame(quarters, rate_hz) = (seconds(quarters) * rate_hz).round

      # @return [Rational] quarter notes a minute
      def bpm_at(quarters) = 60 / at(segments, quarters, :quarters).quarter_s

      # @return [Array<Array(Rational, Rational)>] quarter notes where another tempo begins, and how long a quarter lasts then, in
      #   seconds; ramps step by step
      def steps = segments.map { |segment| [segment.quarters, segment.quarter_s] }

      # @return [Meter] of a bar; bars before the first are like it
      def meter(bar) = measure_of(bar).meter

      # @return [Rational] quarter notes, where a bar begins
      def bar_start(bar)
        measure = measure_of(bar)
        measure.quarters + (bar - measure.bar) * measure.meter.bar_quarters
      end

      # @return [Array(Integer, Integer, Rational)] bar, beat from 1, and how much of the beat is over
      def place(quarters)
        measure = at(measures, quarters, :quarters)
        bars, into = (quarters - measure.quarters).divmod(measure.meter.bar_quarters)
        beat, part = into.divmod(measure.meter.beat_quarters)
        [measure.bar + bars, beat + 1, part / measure.meter.beat_quarters]
      end

      # @param quarters [Rational] where something ends
      # @return [Integer] the bar in which it does, at least the first
      def last_bar(quarters)
        bar, beat, part = place(quarters)
        [(beat == 1 && part.zero?) ? bar - 1 : bar, 1].max
      end

      private

      def measure_of(bar) = at(measures, bar, :bar)

      # The last one that begins there or before; the first one for what lies before all.
      def at(all, place, name) = all[[(all.bsearch_index { |one| one[name] > place } || all.size) - 1, 0].max]

      def measures
        once(:measures) do
          meters.each_cons(2).each_with_object([Measure.new(1, 0r, meters.first.last)]) do |((from, before), (bar, meter)), all|
            all << Measure.new(bar, all.last.quarters + (bar - from) * before.bar_quarters, meter)
          end.freeze
        end
      end

      def segments
        once(:segments) do
          placed = tempi.map { |tempo| [bar_start(tempo.bar) + tempo.quarters, tempo] }
          placed.each_with_index.with_object([]) { |((from, tempo), index), all| add(all, from, tempo, placed[index + 1]) }.freeze
        end
      end

      def add(all, from, tempo, following)
        return append(all, from, 60 / tempo.bpm) unless tempo.ramp && following

        to, aim = following
        at = from
        while at < to
          step = [meter_at(at).beat_quarters, to - at].min
          share = (at + step / 2 - from) / (to - from)
          append(all, at, 60 / (tempo.bpm + (aim.bpm - tempo.bpm) * share))
          at += step
        end
      end

      def meter_at(quarters) = at(measures, quarters, :quarters).meter

      def append(all, quarters, quarter_s)
        before = all.last
        seconds = before ? before.seconds + (quarters - before.quarters) * before.quarter_s : quarters * quarter_s
        all << Segment.new(quarters, seconds, quarter_s)
      end

      # A number where it is one to the last digit, else a fraction.
      def plain(value)
        return value.to_i if value.denominator == 1

        (Rational(value.to_f.to_s) == value) ? value.to_f : value.to_s
      end
    end
  end
end
