# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Where each lane that comes back from the recorder is to be heard, as the plan has it: which channels listen
    # to it, and on which lanes to the recorder those can be heard.
    #
    #   WayBack.of(show).returns   # => [Return(lane: 6, source: "rec/track/6", channels: ["desk/channel/6"], meant: [...])]
    #
    # returns  Return a lane out that takes something and arrives at a desk, by number
    # ears     Ear a lane in on which a channel is heard behind its feed
    # mixes    {lane in => place of the mix that it carries}
    # raw      channels whose sources go to the recorder raw, past their feed: what they listen to is not heard there
    class WayBack < Value.of(:returns, :ears, :mixes, :raw)
      # lane      number of the lane out
      # source    what it plays: a track's place, or a role
      # channels  that listen to it now
      # meant     channels of the source that it plays, whatever they listen to
      Return = Value.of(:lane, :source, :channels, :meant)
      Ear = Value.of(:lane, :channel, :tap)

      class << self
        # @return [WayBack] once a show
        def of(show) = show.once(:way_back) { made(show) }

        private

        def made(show)
          ears, raw = heard(show)
          new(returns: returns(show), ears: ears, mixes: Signal::Recorder.mixes(show), raw: raw)
        end

        def returns(show)
          recorder = Signal::Recorder.of(show)
          slots = show.patch.slots.select { |slot, _| slot.start_with?("#{recorder}/lane-out/") && Signal::Returns.at_any_desk?(show, slot) }
          by_lane = listeners(show)
          meant = Signal::Sources.returns(show).group_by { |_, lane| show.graph.fixed_beginning(lane) }
          slots.map { |slot, pick| Return.new(lane: Endpoint.number(slot), source: pick.from, channels: by_lane.fetch(slot, []), meant: meant.fetch(slot, []).map(&:first)) }
            .sort_by(&:lane).freeze
        end

        # @return [Hash{String => Array<String>}] lane out => channels that listen to it
        def listeners(show)
          channels = show.rig.ids_of("channel").filter_map { |channel| lane_behind(show, channel)&.then { |lane| [lane, channel] } }
          channels.group_by(&:first).transform_values { |pairs| pairs.map(&:last) }
        end

        # @return [String, nil] the lane out on a channel's line, before any track
        def lane_behind(show, channel)
          show.graph.line_back(channel).take_while { |id| !show.graph.track?(id) }.find { |id| id.include?("/lane-out/") }
        end

        # @return [Array(Array<Ear>, Array<String>)]
        def heard(show)
          lines = Signal::Recorder.lanes(show).to_h { |lane| [lane, show.graph.line_back(Signal::Recorder.place(show, lane))] }
          ears = lines.filter_map { |lane, line| ear(show, lane, line) }
          by_row = Signal::Sources.channels(show).group_by(&:last)
          raw = lines.values.flat_map { |line| by_row.fetch(line.last, []).map(&:first) } - ears.map(&:channel)
          [ears.freeze, raw.uniq.freeze]
        end

        # @return [Ear, nil] nil also for a raw tap: that is the socket's signal, whatever the channel listens to
        def ear(show, lane, line)
          at = line.index { |id| show.rig.kind_of(id) == "channel" }
          return nil unless at&.positive?

          tap = show.patch.slots[line[at - 1]]&.tap
          Ear.new(lane: lane, channel: line[at], tap: tap) unless tap == "raw"
        end
      end

      # What a proof hangs on: another answer, and it must be heard again.
      def digest = Digest::SHA256.hexdigest(JSON.generate([returns.map(&:to_a), ears.map(&:to_a), mixes.to_a]))[0, 12]

      # @return [Array<Integer>] lanes in on which anything of it could be heard
      def lanes_in = (ears.map(&:lane) + mixes.keys).uniq.sort

      def channel_of(lane_in) = ears.find { |ear| ear.lane == lane_in }&.channel
    end
  end
end
