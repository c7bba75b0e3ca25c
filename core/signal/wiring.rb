# frozen_string_literal: true

module Loomshuttle
  module Signal
    # The joins that no patch changes: wires inside devices and lanes of cables. They hang
    # on the rig and the sample rate alone, so one wiring serves all patches of a rig.
    #
    #   Wiring.of(rig, 48_000).onward("box-a/mic/9")  # => ["box-a/link-out/9", "desk/aes50-a-in/9"]
    class Wiring
      NONE = [].freeze

      # @return [Wiring] the rig's own, made once
      def self.of(rig, rate_hz) = rig.once([:wiring, Rig::Standard.rate_family(rate_hz)]) { new(rig, rate_hz) }

      attr_reader :edges

      def initialize(rig, rate_hz)
        @rig = rig
        @rate_hz = rate_hz
        @edges = (rig.devices.values.flat_map { |device| wires_of(device) } + rig.cables.flat_map { |cable| lanes_of(cable) }).freeze
        @from = @edges.group_by(&:from).each_value(&:freeze)
        @to = @edges.group_by(&:to).each_value(&:freeze)
        @onward = {}
        @back = {}
        @lines = {}
      end

      def from(id) = @from.fetch(id, NONE)
      def to(id) = @to.fetch(id, NONE)

      # Places that a signal here reaches whatever the patch says, nearest first.
      def onward(id) = @onward[id] ||= spread(id) { |place| from(place).map(&:to) }.freeze

      # Places that a signal here comes from whatever the patch says, nearest first.
      def back(id) = @back[id] ||= spread(id) { |place| to(place).map(&:from) }.freeze

      # The fixed line to a place, from it back to where the line begins; only the place itself
      # where none leads to it. Lines are walked once for all patches of a rig.
      #
      # @return [Array<String>] frozen
      def line_back(id) = @lines[id] ||= walk_back(id).freeze

      # The microphone socket at the far end of fixed joins, or the place itself: "Box A socket 9"
      # says more than "AES50 A lane 9".
      def socket_behind(id)
        far = back(id).last
        (far && Endpoint.parse(far).family == "mic") ? far : id
      end

      private

      # A line that comes round again is no line.
      def walk_back(id)
        passed = [id]
        while (before = to(passed.last).first&.from)
          return [id] if passed.include?(before)

          passed << before
        end
        passed
      end

      def spread(id)
        found = []
        queue = [id]
        while (place = queue.shift)
          nexts = yield(place) - found - [id]
          found.concat(nexts)
          queue.concat(nexts)
        end
        found
      end

      def wires_of(device)
        device.profile.wires.flat_map do |wire|
          skipped = wire[:skip] ? device.setting(wire[:skip]) : 0
          (1..wire[:count]).filter_map do |number|
            join(Endpoint.id(device.id, wire[:from], number + skipped), Endpoint.id(device.id, wire[:to], number + wire[:shift]), :wire)
          end
        end
      end

      def lanes_of(cable)
        a, b = cable.ends.map { |name| @rig.port(name) }
        lanes = @rig.lanes_of(cable, @rate_hz)
        one_way(a, b, lanes, cable.offset_a_to_b) + one_way(b, a, lanes, cable.offset_b_to_a)
      end

      def one_way((sender, out), (receiver, into), lanes, offset)
        return [] unless out.lanes_out && into.lanes_in

        (1..lanes).filter_map do |lane|
          join(Endpoint.id(sender.id, out.lanes_out, lane), Endpoint.id(receiver.id, into.lanes_in, lane + offset), :cable)
        end
      end

      # Only between places that are there: a lane beyond the last one is lost.
      def join(from, to, kind)
        a, b = @rig.place(from), @rig.place(to)
        Edge.join(a.id, b.id, kind) if a && b
      end
    end
  end
end
