# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # What a return ping heard, against what the plan says.
    #
    #   proof = Proof.new(way: WayBack.of(show).digest, heard: {6 => heard}, at: "2026-11-26T20:41:07Z")
    #   proof.lanes(show)   # => [Judged(lane: 6, state: "crossed", ...)]
    #
    # way      WayBack#digest of the patch that it was heard with
    # heard    {lane in => Heard} of every lane in on which something could be heard
    # quick    true: only whether anything came back was listened for, not which lane it was
    # who, at  by whom, and when (UTC, ISO 8601)
    # level_dbfs  at which each lane was sent; rate_hz for frames
    class Proof < Value.of(:way, :heard, :at, who: "", quick: false, level_dbfs: -30.0, rate_hz: 48_000)
      # What one lane in heard.
      #
      # pings    [Ear::Ping], none where it was quick
      # floor_db  level over what was sent under which nothing could be told there
      # gain_db  quick: of the strongest, nil for nothing
      Heard = Value.of(:pings, :floor_db, gain_db: nil)

      # One return lane, judged.
      #
      # state    "right", "crossed", "doubled", "dead", "left on" (it is heard though no channel should listen), "stage" (nobody
      #   should, nobody does), "mix" (it comes back in a mix, so which channel it came by is not known), "unknown"
      # heard    [Arrival] where it was heard, channels before mixes
      # faults   of FAULTS
      Judged = Value.of(:lane, :source, :planned, :meant, :state, :heard, faults: [].freeze) do
        def fine? = %w[right stage mix].include?(state) && faults.empty?
        def wrong? = %w[crossed doubled dead].include?(state) || state == "left on" || faults.any?
      end
      # channel is a mix's place where mix is true.
      Arrival = Value.of(:channel, :lane_in, :gain_db, :inverted, :latency_frames, :coloured, mix: false)
      # turned    its polarity is the other one
      # level     it is not at the level at which it was sent
      # late      it comes later, or sooner, than the others
      # coloured  something stands in its way that changes its sound
      FAULTS = %w[turned level late coloured].freeze

      # Frames that a quick ping sounds: 0.6 s at 48 kHz, and more than half of it is heard.
      QUICK_LENGTH = 28_672
      # More than that is no rounding.
      LEVEL_DB = 0.5
      # Under that floor, against what was sent, a lane that is silent is so for sure.
      SURE_DB = -20.0
      private_constant :LEVEL_DB, :SURE_DB

      class << self
        # As it was kept.
        def from_data(data)
          new(**data.slice("way", "at", "who", "quick", "level_dbfs", "rate_hz").transform_keys(&:to_sym),
            heard: data.fetch("heard").to_h { |lane, one| [lane.to_i, heard(one)] }.freeze)
        end

        # @param one [Hash] pings as [lane, gain, latency_frames, coloured], floor_db, gain_db; string keys
        # @return [Heard]
        def heard(one)
          pings = one.fetch("pings", []).map { |ping| Ear::Ping.from_a(ping) }
          Heard.new(pings: pings.freeze, floor_db: one["floor_db"], gain_db: one["gain_db"])
        end
      end

      def to_data = {**to_h, heard: heard.transform_values { |one| {pings: one.pings.map(&:to_a), floor_db: one.floor_db, gain_db: one.gain_db} }}

      # Whether it was heard with the patch that the plan has now.
      def holds?(show) = way == WayBack.of(show).digest

      # What the desk listens to, as it was heard, whatever the plan says.
      #
      # @return [Symbol] :recorder, :stage, or :unknown where no lane could hear it
      def feed(show)
        way_back = WayBack.of(show)
        ears = heard.slice(*way_back.lanes_in)
        return :recorder if ears.values.any? { |one| one.pings.any? || one.gain_db }

        (ears.any? && ears.values.any? { |one| one.floor_db <= SURE_DB }) ? :stage : :unknown
      end

      # What most lanes take out and back: what an overdub is shifted by.
      #
      # @return [Integer, nil] frames
      def round_trip_frames = heard.values.flat_map(&:pings).map(&:latency_frames).tally.max_by { |frames, count| [count, -frames] }&.first

      # @return [Array<Judged>] by lane
      def lanes(show)
        way_back = WayBack.of(show)
        arrivals = arrivals(way_back)
        way_back.returns.map { |one| judged(way_back, one, arrivals.fetch(one.lane, [])) }
      end

      private

      # @return [Hash{Integer => Array<Arrival>}] by the lane that was sent
      def arrivals(way_back)
        all = heard.flat_map do |lane_in, one|
          channel, mix = way_back.channel_of(lane_in), way_back.mixes[lane_in]
          (channel || mix) ? one.pings.map { |ping| [ping.lane, arrival(ping, lane_in, channel || mix, channel.nil?)] } : []
        end
        all.group_by(&:first).transform_values { |pairs| pairs.map(&:last).sort_by { |arrival| [arrival.mix ? 1 : 0, arrival.lane_in] } }
      end

      def arrival(ping, lane_in, channel, mix)
        Arrival.new(channel: channel, lane_in: lane_in, mix: mix, gain_db: ping.level_db.round(1), inverted: ping.inverted,
          latency_frames: ping.latency_frames, coloured: ping.coloured)
      end

      def judged(way_back, one, heard)
        ears = one.channels & way_back.ears.map(&:channel)
        state = state(way_back, one, ears, heard)
        faults = (state == "dead" || state == "unknown") ? [] : faults(way_back, heard)
        Judged.new(lane: one.lane, source: one.source, planned: one.channels, meant: one.meant, state: state, heard: heard, faults: faults)
      end

      def state(way_back, one, ears, heard)
        on = heard.reject(&:mix).map(&:channel).uniq
        return "crossed" if (on - one.channels).any? && (ears - on).any?
        return "doubled" if (on - one.channels).any? && one.channels.any?
        return "left on" if heard.any? && one.channels.empty?
        return silent(way_back, one, ears) if heard.empty?

        return "dead" if (ears - on).any?

        on.any? ? "right" : "mix"
      end

      # Nothing of it was heard: because there was nothing, or because nobody could have heard it.
      def silent(way_back, one, ears)
        lanes = one.channels.empty? ? way_back.lanes_in : way_back.ears.select { |ear| ears.include?(ear.channel) }.map(&:lane)
        able = heard.slice(*lanes).values.any? { |each| each.floor_db <= SURE_DB }
        return "unknown" unless able

        one.channels.empty? ? "stage" : "dead"
      end

      # Level and colour say something only at a channel's input: behind it they are what the engineer wants.
      def faults(way_back, heard)
        on_channel = heard.reject(&:mix)
        clean = on_channel.select { |arrival| way_back.ears.any? { |ear| ear.lane == arrival.lane_in && ear.tap == "in" } }
        trip = round_trip_frames
        [("turned" if on_channel.any?(&:inverted)), ("level" if clean.any? { |arrival| arrival.gain_db.abs > LEVEL_DB }),
          ("late" if on_channel.any? { |arrival| arrival.latency_frames != trip }), ("coloured" if clean.any?(&:coloured))].compact
      end
    end
  end
end
