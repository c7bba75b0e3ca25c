# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Sources that reach one mix by two ways, with the time each way takes: over channels, groups
    # and roles. Two channels of one row that arrive together are the wanted split's own business
    # (check `shared`); of a role nobody else says so.
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
        # Without a mix that feeds a mix only a role on two channels has two ways.
        flat = show.patch.sends.each_key.all? { |from| show.rig.kind_of(from) == "channel" }
        return [] if flat && show.roles.values.none? { |role| channels_of(show, role).size > 1 }

        sources = sources(show)

        memo = {}
        found = show.patch.sends.values.flat_map(&:keys).uniq.sort.flat_map do |mix|
          into(show, mix, memo, []).group_by { |way| sources.fetch(way.channel, way.channel) }.filter_map { |source, ways|
            double(mix, ways, together: !show.rows.key?(source)) if ways.size > 1
          }
        end
        found.reject { |one| upstream?(one, found) }.sort_by { |one| [one.mix, *one.ways.map { |way| ordered(way) }] }
      end

      # The quicker way first; where two are alike the same one, whatever was laid first.
      def ordered(way) = [way.latency, way.through.size, *Endpoint.parse(way.channel).then { |place| [place.number, place.device] }, way.through]

      def channels_of(show, role) = show.graph.onward(role.endpoint).map(&:to).select { |id| show.rig.kind_of(id) == "channel" }

      # @return [Hash{String => String}] channel => the row or role in it
      def sources(show)
        (show.patch.sends.keys & show.rig.ids_of("channel").to_a).to_h { |channel| [channel, Sources.row_behind(show, channel)] }
      end

      # The first two ways that add up to something nobody wants: those of one channel first.
      #
      # @param together [Boolean] whether two channels that arrive together count
      def double(mix, ways, together:)
        pairs = ways.sort_by { |way| ordered(way) }.combination(2)
        pair = pairs.find { |one, other| one.channel == other.channel } || pairs.find { |one, other| one.latency != other.latency } || (pairs.first if together)
        Double.new(mix: mix, ways: pair) if pair
      end

      # What is double in a mix already stays double in every mix behind it: one cause, one finding.
      def upstream?(double, found)
        behind = double.ways.map { |way| way.through.last }.uniq
        return false if behind.size > 1 || behind.first.nil?

        found.any? { |other| other.mix == behind.first && other.ways.map(&:channel) == double.ways.map(&:channel) }
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
      private_class_method :ordered, :channels_of, :sources, :double, :upstream?, :into, :ways_of
    end
  end
end
