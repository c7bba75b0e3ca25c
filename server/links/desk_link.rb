# frozen_string_literal: true

require "osc-ruby"
require "socket"

module Loomshuttle
  module Server
    module Links
      # Control of the desk by OSC over UDP, with our own address space (see
      # standin/control_port.rb). What is sent is asked again until it is answered.
      class DeskLink
        ANSWER_S = 0.4
        TRIES = 3
        METERS_AGAIN_S = 2
        SILENT_S = 1.5
        private_constant :ANSWER_S, :TRIES, :METERS_AGAIN_S, :SILENT_S

        # The desk does not answer, or (Refused) answers that it will not.
        class Failed < StandardError; end
        class Refused < Failed; end

        # @return [Array<Float>, nil] peaks, full scale 1.0: channels, mixes, listeners
        attr_reader :peaks

        def initialize(port:)
          @port = port
          @lock = Mutex.new
          @id = 0
          @socket = line
          Thread.new { follow_meters }
        end

        def answers? = !@heard_s.nil? && now - @heard_s < SILENT_S

        # Writes into the desk what differs between two patches.
        #
        # @return [Integer] how many messages it took
        def send_changes(before, after)
          messages = slot_messages(before, after) + send_messages(before, after)
          messages.each { |address, *arguments| request(address, *arguments) }
          tell_stage(before, after)
          messages.size
        end

        # Whether the desk has that patch: one question, not a whole dump.
        def has?(patch)
          sum = nil
          request("/sum") { |message| sum = message.to_a.first }
          sum == patch.checksum
        end

        # @return [Patch::Scene] what the desk says that it has
        def state
          patch = Patch::Scene.new
          request("/dump") { |message| patch = add_state(patch, message) }
          patch
        end

        private

        # Where microphones are plugged is the stage's business: only a simulated one can be
        # told, and it has its own musicians only.
        def tell_stage(before, after)
          changed(before.plugs, after.plugs).each do |row, socket|
            request("/plug", row, socket.to_s)
          rescue Refused
            next
          end
        end

        def line = UDPSocket.new.tap { |socket| socket.connect("127.0.0.1", @port) }
        def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

        def slot_messages(before, after)
          changed(before.slots, after.slots).map { |slot, take| ["/slot", slot, take&.from.to_s, take&.tap.to_s, (take&.delay_ms || 0.0).to_f] }
        end

        def send_messages(before, after)
          changed(flat(before.sends), flat(after.sends)).map { |(channel, mix), send| send ? ["/send", channel, mix, send.tap, send.level_db.to_f] : ["/unsend", channel, mix] }
        end

        def changed(before, after) = (before.keys | after.keys).reject { |key| before[key] == after[key] }.map { |key| [key, after[key]] }
        def flat(sends) = sends.flat_map { |channel, mixes| mixes.map { |mix, send| [[channel, mix], send] } }.to_h

        def request(address, *arguments, &state)
          @lock.synchronize do
            @id += 1
            packet = OSC::Message.new(address, @id, *arguments).encode
            TRIES.times do
              @socket.send(packet, 0)
              return if answered?(&state)
            rescue SystemCallError
              sleep ANSWER_S
            end
            raise Failed, "the desk does not answer"
          end
        end

        def answered?
          while @socket.wait_readable(ANSWER_S)
            message = OSC::OSCPacket.messages_from_network(@socket.recvfrom(65_535).first).first
            id, why = message.to_a
            return true if message.address == "/ok" && id == @id
            raise Refused, why if message.address == "/no" && id == @id

            yield message if block_given? && message.address.start_with?("/state/")
          end
          false
        end

        def add_state(patch, message)
          first, second, third, fourth = message.to_a
          case message.address
          when "/state/slot" then patch.with_slots(first => Patch::Take.new(from: second, tap: third.empty? ? nil : third, delay_ms: fourth.to_f))
          when "/state/plug" then patch.with_plug(first, second)
          else patch.with_send(first, second, Patch::Send.new(tap: third, level_db: fourth.to_f.round(2)))
          end
        end

        def follow_meters
          socket = line
          asked_s = nil
          loop do
            socket.send(OSC::Message.new("/meters", 0).encode, 0).then { asked_s = now } if asked_s.nil? || now - asked_s > METERS_AGAIN_S
            next unless socket.wait_readable(0.5)

            message = OSC::OSCPacket.messages_from_network(socket.recvfrom(65_535).first).first
            @heard_s = now
            @peaks = message.to_a.first.unpack("e*") if message.address == "/meters"
          rescue SystemCallError
            sleep 0.5
          end
        end
      end
    end
  end
end
