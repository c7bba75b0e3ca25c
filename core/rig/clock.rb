# frozen_string_literal: true

module Loomshuttle
  module Rig
    # The clock's tree: in every island of gear that digital cables join exactly one leader, and every
    # other device follows through a port whose cable leads to it. What no digital cable joins with
    # anything needs nobody's clock.
    #
    #   Clock.of(rig).ways   # => {"box-a" => ["box-a", "desk"], "desk" => ["desk"]}
    class Clock
      # What stands between a device and the leader, and at which device the way breaks: a
      # whole chain may hang on one fault.
      Fault = Value.of(:device, :at, :kind, :words)

      def self.of(rig) = rig.once(:clock) { new(rig) }

      # @return [Hash{String => Array<String>}] device id => the devices from it to the
      #   leader; only devices whose clock arrives
      attr_reader :ways

      # @return [Array<Fault>]
      attr_reader :faults

      def initialize(rig)
        @rig = rig
        @digital = rig.devices.values.select(&:digital?)
        @ways = {}
        @faults = @digital.reject { |device| alone?(device) && device.clock.nil? }.filter_map { |device| follow(device) }
      end

      # @return [Array<Array<Device>>] digital gear that digital cables join, in the rig's order
      def islands
        @islands ||= @digital.each_with_object([]) do |device, found|
          found << reached(device) unless found.any? { |island| island.include?(device) }
        end
      end

      # @return [Array<Array(Device, String)>] what a digital cable joins a device with, and the port
      #   at the far end
      def neighbours(device)
        device.profile.ports.values.select(&:digital?).flat_map do |port|
          name = "#{device.id}/#{port.name}"
          @rig.cables_at(name).filter_map do |cable|
            other, far = @rig.port(cable.other_end(name))
            [other, far.name] if far.digital? && other != device
          end
        end
      end

      # @return [Array<Device>]
      def leaders = @digital.select { |device| device.clock == "leader" }

      # The edge that a device takes its clock by: its port, the cable, the device behind it.
      #
      # @return [Array(String, Cable, Device), nil]
      def source(device)
        name = "#{device.id}/#{device.clock}"
        cable = @rig.cables_at(name).first
        cable && [name, cable, @rig.port(cable.other_end(name)).first]
      end

      private

      def alone?(device) = neighbours(device).empty?

      def reached(device)
        found = [device]
        found.each { |one| found.concat(neighbours(one).map(&:first) - found) }
        @digital & found
      end

      def follow(device)
        way = [device.id]
        now = device
        until now.clock == "leader"
          step = stepped(now) or return Fault.new(device: device, at: now, kind: :lost, words: lost_words(device, now))
          if way.include?(step.id)
            return Fault.new(device: device,
              at: circle_of(way, step),
              kind: :circle,
              words: "#{device.name}'s clock goes round in a circle: #{[*way, step.id].map { |id| @rig.devices[id].name }.join(" follows ")}.")
          end

          way << step.id
          now = step
        end
        @ways[device.id] = way
        nil
      end

      # All devices of a circle, and those that hang on it, break at the same one.
      def circle_of(way, step) = way.drop_while { |id| id != step.id }.min.then { |id| @rig.devices[id] }

      def stepped(device) = device.clock && source(device)&.last

      def lost_words(device, at)
        reason = at.clock ? "nothing is plugged in at #{at.name} #{at.clock}" : "#{at.name} neither leads nor follows"
        (device == at) ? "#{device.name} has no clock: #{reason}." : "#{device.name} follows #{at.name}, but #{reason}."
      end
    end
  end
end
