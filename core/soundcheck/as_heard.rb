# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Takes the way back as it was heard: the plan says on which return each channel really listens, and each track is
    # laid on the lane that comes back on its own channel. One edit, undone as one.
    #
    #   AsHeard.of(show, proof)   # => Way(label: ..., edits: [...]), or a Refusal that says why it cannot be
    module AsHeard
      # label, edits as in Checks::Mend, which stands above here.
      Way = Value.of(:label, :edits) do
        def edit = Edits::Group.new(edits: edits)
      end

      module_function

      # @param proof [Proof]
      # @return [Way, Refusal]
      def of(show, proof)
        return refusal("The patch is another than when it was heard. Send the ping again.") unless proof.holds?(show)

        wanted = wanted(show, proof)
        return refusal("No lane was heard on another channel than planned.") if wanted.empty?

        edits = [*at_desk(show, wanted), *lanes_out(show, wanted)]
        after = Edits::Group.new(edits: edits).apply(show)
        return refusal("This desk takes returns in whole blocks, so the plan cannot follow. Set it right at the desk.") unless after.is_a?(Show) && true?(show, after, wanted)

        Way.new(label: "Plan it as it was heard", edits: edits)
      end

      # @return [Hash{String => Integer}] channel => lane out that it was heard to listen to, where the plan says another.
      #   Channels that hear two lanes, or a lane that two hear, have no plain answer.
      def wanted(show, proof)
        crossed = proof.lanes(show).select { |one| one.state == "crossed" }
        pairs = crossed.flat_map { |one| one.heard.reject(&:mix).map { |arrival| [arrival.channel, one.lane] } }
        once = ->(list) { list.tally.select { |_, count| count == 1 }.keys }
        channels, lanes = once[pairs.map(&:first)], once[pairs.map(&:last)]
        pairs.select { |channel, lane| channels.include?(channel) && lanes.include?(lane) }.to_h
      end

      def at_desk(show, wanted)
        slots = wanted.map do |channel, lane|
          slot = show.turned?(channel) ? show.second_slot(channel) : channel
          [slot, Signal::Route.into(show, lane_out(show, lane), slot)]
        end
        opened = slots.map(&:first).select { |slot| show.rig.field_of(slot).opens && Patch::Block.slots(show, slot).size > 1 }.map { |slot| Patch::Block.first(show, slot) }.uniq
        [*opened.map { |block| Edits::OpenBlock.new(slot: block) }, *slots.filter_map { |slot, from| Edits::Connect.new(slot: slot, from: from) if from }]
      end

      # Each channel's track goes onto the lane that it listens to.
      def lanes_out(show, wanted)
        wanted.filter_map do |channel, lane|
          track = show.graph.line_back(channel).find { |id| show.graph.track?(id) || id.start_with?("songs/") }
          Edits::Connect.new(slot: lane_out(show, lane), from: track) if track && show.patch.slots[lane_out(show, lane)]&.from != track
        end
      end

      def lane_out(show, lane) = Endpoint.id(Signal::Recorder.of(show), "lane-out", lane)

      # Whether each of them listens to that lane then, and still plays its own.
      def true?(before, after, wanted)
        returns = WayBack.of(after).returns
        own = Signal::Sources.channels(before)
        wanted.all? { |channel, lane| returns.any? { |one| one.lane == lane && one.channels.include?(channel) } && Signal::Sources.channels(after)[channel] == own[channel] }
      end

      def refusal(why) = Refusal.new(field: "proof", value: nil, allowed: "crossed lanes that the plan can follow", why: why)
      private_class_method :wanted, :at_desk, :lanes_out, :lane_out, :true?, :refusal
    end
  end
end
