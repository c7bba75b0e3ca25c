# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Sources that reach one mix by two ways, with the time each way takes. A source in two
    # channels (parallel processing) counts where the two arrive at different times.
    module DoubleWays
      # One way: the channel that it leaves by, the mixes passed, the time lost in samples.
      Way = Struct.new(:channel, :through, :latency)

      # ways: two, the quicker one first
      Double = Value.of(:mix, :ways) do
        def difference_samples = ways.last.latency - ways.first.latency
        def one_channel? = ways.first.channel == ways.last.channel
      end

      module_function

      # @return [Array<Double>]
      def of(show)
        # Without a mix that feeds a mix there is one way for everything.
        return [] if show.patch.sends.each_key.all? { |from| show.rig.kind_of(from) == "channel" }

        memo = {}
        rows = Sources.channels(show)
        show.patch.sends.values.flat_map(&:keys).uniq.flat_map do |mix|
          into(show, mix, memo, []).group_by { |way| rows.fetch(way.channel, way.channel) }.filter_map { |_, ways|
            if ways.size > 1
              double(mix, ways)
            end
          }
        end
      end

      # The first two ways that add up to something nobody wants.
      def double(mix, ways)
        quickest, *others = ways.sort_by(&:latency)
        other = others.find { |way| way.channel == quickest.channel || way.latency != quickest.latency }
        Double.new(mix: mix, ways: [quickest, other]) if other
      end

      # Every way that leads into a mix. A mix that feeds itself is followed once.
      #
      # @return [Array<Way>]
      def into(show, mix, memo, above)
        memo[mix] ||= show.graph.to(mix).select { |edge| edge.kind == :send && !above.include?(edge.from) }
          .flat_map { |edge| ways_of(show, edge.from, memo, [*above, mix]) }
      end

      def ways_of(show, from, memo, above)
        place = show.rig.place(from)
        return [Way.new(from, [].freeze, 0)] if place.kind == "channel"

        into(show, from, memo, above).map { |way| Way.new(way.channel, [*way.through, from], way.latency + place.family.latency_samples) }
      end
      private_class_method :double, :into, :ways_of
    end
  end
end
