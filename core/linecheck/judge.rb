# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # What an arrival says of the source that was asked for.
    #
    #   Judge.of(show, "list/row/7", arrival)   # => {place: "elsewhere", lane: 8, peak_dbfs: -14.2, faults: []}
    module Judge
      # A tap that stays under this leaves a preamp no room over its noise (common practice: normal playing
      # peaks 6 to 18 dB under full scale).
      LOW_DBFS = -45.0
      # Over the noise in its own bands so much, and audible: under this a room's own noise covers it.
      HUM_OVER_DB = 15.0
      HUM_DBFS = -75.0
      # Two microphones of one source hear it this much alike (from memory: two on one drum, 0.6 and more).
      PARTNER_LIKE = 0.5
      # One signal on two lanes is not merely alike; bleed travels, and is softer.
      SAME_LIKE = 0.98
      SAME_WITHIN_DB = 6.0
      private_constant :LOW_DBFS, :HUM_OVER_DB, :HUM_DBFS, :PARTNER_LIKE, :SAME_LIKE, :SAME_WITHIN_DB

      module_function

      # @param row [String] id of the source that is tapped
      # @param arrival [Ear::Arrival]
      # @return [Hash] what a Verdict has of place, lane, peak_dbfs and faults
      def of(show, row, arrival)
        way = Way.of(show, row)
        # One source may be laid to several lanes: the planned one counts where all of them are the same.
        own = arrival.heard.find { |one| way.lanes.include?(one.lane) && (one.lane == arrival.lane || same?(arrival.heard.first, one)) }
        return {place: "elsewhere", lane: arrival.lane, peak_dbfs: arrival.heard.first.peak_dbfs.round(1), faults: partner(show, row, way, arrival)} unless own

        {place: "right", lane: own.lane, peak_dbfs: own.peak_dbfs.round(1), faults: [*level(own), *hum(arrival), *polarity(show, row, arrival), *alike(way, arrival)]}
      end

      # Of two microphones of one source the other one hears it too. If the plugs are swapped its own lane has what the other
      # one hears; where that is silent nothing may come from it at all.
      def partner(show, row, way, arrival)
        partners = Partners.of(show, row)
        (partners.include?(Way.row_of(show, arrival.lane)) && way.lanes.none? { |lane| arrival.on(lane) }) ? [{kind: "partner"}] : []
      end

      def level(heard)
        return [{kind: "clipped"}] if heard.clipped

        (heard.peak_dbfs < LOW_DBFS) ? [{kind: "low"}] : []
      end

      def hum(arrival)
        hum = arrival.hum
        return [] unless hum && hum.over_db >= HUM_OVER_DB && hum.level_dbfs >= HUM_DBFS

        [{kind: "hum", hz: hum.hz, over_db: hum.over_db.round, level_dbfs: hum.level_dbfs.round}]
      end

      def polarity(show, row, arrival)
        heard = Partners.of(show, row).flat_map { |partner| Way.of(show, partner).lanes.filter_map { |lane| arrival.on(lane)&.then { |one| [partner, one] } } }
        partner, other = heard.find { |_, one| one.lane != arrival.lane && one.like.likeness >= PARTNER_LIKE && one.like.inverted }
        partner ? [{kind: "polarity", row: partner, lane: other.lane}] : []
      end

      def alike(way, arrival)
        others = arrival.heard.drop(1).select { |one| same?(arrival.heard.first, one) && !way.lanes.include?(one.lane) }
        others.any? ? [{kind: "alike", lanes: others.map(&:lane).sort}] : []
      end

      def same?(first, other)
        like = other.like
        like.likeness >= SAME_LIKE && like.delay_frames.abs <= 1 && !like.inverted && (first.peak_dbfs - other.peak_dbfs).abs < SAME_WITHIN_DB
      end
      private_class_method :partner, :level, :hum, :polarity, :alike, :same?
    end
  end
end
