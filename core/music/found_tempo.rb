# frozen_string_literal: true

module Loomshuttle
  module Music
    # The tempo of somebody's click, by its own onsets: the straight line that lies nearest to all of them (least
    # squares), and how far they stray from it.
    #
    #   FoundTempo.of([0, 24_003, 47_998], 48_000)   # => #<struct bpm=120.0, first_frame=0, stray_ms=0.06, clicks=3>
    #
    # bpm          clicks a minute
    # first_frame  where the line has its first click
    # stray_ms     by which the furthest click lies beside the line; a click that changes its tempo strays far
    # clicks       how many there are
    FoundTempo = Value.of(:bpm, :first_frame, :stray_ms, :clicks)

    class FoundTempo
      # Fewer say nothing about a tempo.
      CLICKS_MIN = 4
      # Whole, half and tenth numbers are what people set: taken where the line is that near.
      ROUND_TO = [1, 2, 10, 100].freeze
      private_constant :ROUND_TO

      class << self
        # @param onsets [Array<Integer>] frames, rising
        # @return [FoundTempo, nil] nil where there are too few clicks, or none that follow each other evenly
        def of(onsets, rate_hz)
          return nil if onsets.size < CLICKS_MIN

          places = places(onsets)
          first, spacing = line(places, onsets)
          return nil unless spacing.positive?

          new(bpm: rounded(60.0 * rate_hz / spacing, onsets.size), first_frame: [first.round, 0].max, clicks: onsets.size,
            stray_ms: (places.zip(onsets).map { |place, frame| (first + spacing * place - frame).abs }.max * 1000 / rate_hz).round(2))
        end

        private

        # Which click of an even row each is; one that was left out leaves its place empty.
        def places(onsets)
          usual = onsets.each_cons(2).map { |one, other| other - one }.sort.then { |all| all[all.size / 2] }
          onsets.each_cons(2).each_with_object([0]) { |(one, other), all| all << all.last + [((other - one) / usual.to_f).round, 1].max }
        end

        def line(places, onsets)
          mean_x, mean_y = [places, onsets].map { |all| all.sum / all.size.to_f }
          spacing = places.zip(onsets).sum { |x, y| (x - mean_x) * (y - mean_y) } / places.sum { |x| (x - mean_x)**2 }
          [mean_y - spacing * mean_x, spacing]
        end

        # Frames are whole numbers: a line over few clicks is no better known than that.
        def rounded(bpm, clicks)
          ROUND_TO.map { |parts| (bpm * parts).round / parts.to_f }.find { |near| ((near - bpm) / bpm).abs < 1e-4 / clicks } || bpm.round(3)
        end
      end
    end
  end
end
