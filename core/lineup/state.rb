# frozen_string_literal: true

module Loomshuttle
  module Lineup
    # Which lanes were found at the desk before the show, and which came out elsewhere: the same on every page.
    #
    #   State.new.ticked("rec/lane-out/29", right: true, carries: "songs/role/organ", who: "Ilse")
    #
    # ticks  lane's id => Tick
    State = Value.of(ticks: {}.freeze)

    class State
      # right    heard where it should be; false: elsewhere or not at all
      # carries  what was on the lane then: a tick holds as long as that is so
      # where    what people said of it
      Tick = Value.of(:right, :carries, :who, where: "")

      WHERE_LENGTH_MAX = 100

      def self.from_data(data) = new(ticks: data.fetch("ticks", {}).transform_values { |tick| Tick.new(**tick.transform_keys(&:to_sym)) }.freeze)
      def to_data = {ticks: ticks.transform_values(&:to_h)}

      # @param right [Boolean, nil] nil takes the tick off
      def ticked(lane, right:, carries:, who:, where: "")
        return with(ticks: ticks.except(lane).freeze) if right.nil?

        with(ticks: ticks.merge(lane => Tick.new(right: right, carries: carries, who: who, where: where.strip[0, WHERE_LENGTH_MAX])).freeze)
      end

      # @return [Tick, nil] as long as the lane carries what it did then
      def tick(show, lane) = ticks[lane]&.then { |tick| tick if tick.carries == show.patch.slots[lane]&.from }
    end
  end
end
