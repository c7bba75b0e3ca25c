# frozen_string_literal: true

module Loomshuttle
  module Signal
    # All joins of a show as a directed graph over endpoint ids. Everything that follows a
    # signal (trace, reach, checks, loom) walks this and nothing else.
    #
    #   graph = show.graph
    #   graph.from("desk/channel/9")    # => [Edge, ...] onward
    #   graph.line_back("rec/track/9")  # => ["rec/track/9", "rec/lane-in/9", ...]
    class Graph
      attr_reader :edges

      def initialize(show)
        @show = show
        @edges = fixed_edges + plug_edges + patch_edges + send_edges
        @from = @edges.group_by(&:from)
        @to = @edges.group_by(&:to)
      end

      NONE = [].freeze
      private_constant :NONE

      def from(id) = @from.fetch(id, NONE)
      def to(id) = @to.fetch(id, NONE)

      # Places that a signal here reaches whatever the patch says, nearest first.
      def fixed_onward(id)
        found = []
        queue = [id]
        while (place = queue.shift)
          nexts = from(place).select(&:fixed?).map(&:to) - found
          found.concat(nexts)
          queue.concat(nexts)
        end
        found
      end

      # The single line of places from here back to where the signal begins. It ends where
      # a place is fed by nothing, by a mix of several, or where it comes round again.
      def line_back(id)
        line = [id]
        while (edge = single(to(line.last))) && !line.include?(edge.from)
          line << edge.from
        end
        line
      end

      # Every edge that a signal from here can run along, in breadth-first order. Recorded
      # tracks end a way (what is on disk plays later) unless the way begins there.
      def onward(id)
        seen = {id => true}
        queue = [id]
        walked = []
        while (place = queue.shift)
          next if place != id && track?(place)

          from(place).each do |edge|
            walked << edge
            queue << edge.to unless seen[edge.to]
            seen[edge.to] = true
          end
        end
        walked
      end

      private

      def track?(id) = @show.tracks.key?(id) || id.include?("/track/")

      # Two rows in one socket are a mistake that a check names; the line then follows the
      # first of them. Mixes have no single line.
      def single(edges)
        return nil if edges.empty? || edges.first.kind == :send

        edges.first
      end

      def fixed_edges
        wires = @show.rig.devices.values.flat_map { |device| wires_of(device) }
        wires + @show.rig.cables.flat_map { |cable| lanes_of(cable) }
      end

      def wires_of(device)
        device.profile.wires.flat_map do |wire|
          (1..wire[:count]).map do |number|
            Edge.new(from: Endpoint.id(device.id, wire[:from], number), to: Endpoint.id(device.id, wire[:to], number), kind: :wire)
          end
        end
      end

      def lanes_of(cable)
        a, b = cable.ends.map { |name| port(name) }
        one_way(a, b, cable.offset_a_to_b) + one_way(b, a, cable.offset_b_to_a)
      end

      def port(name)
        device_id, port_name = name.split("/")
        [device_id, @show.rig.devices.fetch(device_id).profile.ports.fetch(port_name)]
      end

      def one_way((sender_id, sender), (receiver_id, receiver), offset)
        return [] unless sender.lanes_out && receiver.lanes_in

        lanes = [sender, receiver].map { |end_port| end_port.lanes_at(@show.sample_rate_hz) }.min
        (1..lanes - offset).map do |lane|
          Edge.new(from: Endpoint.id(sender_id, sender.lanes_out, lane), to: Endpoint.id(receiver_id, receiver.lanes_in, lane + offset), kind: :cable)
        end
      end

      def plug_edges
        @show.patch.plugs.map { |row_id, socket_id| Edge.new(from: row_id, to: socket_id, kind: :plug) }
      end

      def patch_edges
        @show.patch.slots.filter_map do |slot_id, take|
          source = (take.tap == "raw") ? before_feed(take.from) : take.from
          Edge.new(from: source, to: slot_id, kind: :patch, tap: take.tap) if source
        end
      end

      # A raw tap on a channel only ever carries the channel's socket: nothing when the
      # channel listens to the computer.
      def before_feed(source_id)
        family = @show.rig.family_of(source_id)
        return source_id unless family&.kind == "channel"

        socket = @show.patch.slots[source_id]&.from
        socket unless socket.nil? || Endpoint.parse(socket).family == "card-return"
      end

      def send_edges
        @show.patch.sends.flat_map do |channel_id, mixes|
          mixes.map { |mix_id, send| Edge.new(from: channel_id, to: mix_id, kind: :send, tap: send.tap, level_db: send.level_db) }
        end
      end
    end
  end
end
