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
        # What one datagram holds, with room for its heading.
        PART_BYTES = 32_000
        # Entries of the desk's state that are asked for at once.
        PART_ENTRIES = 100
        READ_TRIES = 5
        REFUSALS_SAID = 6
        private_constant :PART_BYTES, :PART_ENTRIES, :READ_TRIES, :REFUSALS_SAID
        private_constant :ANSWER_S, :TRIES, :METERS_AGAIN_S, :SILENT_S

        # The desk does not answer, or (Refused) answers that it will not.
        class Failed < StandardError; end
        class Refused < Failed; end

        # @return [Array<Float>, nil] peaks, full scale 1.0: channels, mixes, listeners
        attr_reader :peaks

        # @return [DeskAddress] where the desk is spoken to
        attr_reader :address

        def initialize(address)
          @address = address
          @lock = Mutex.new
          @staging = Mutex.new
          @id = 0
          @socket = line
          Runtime::Loop.start("desk meters") { follow_meters }
        end

        # Speaks to another desk from here on; what was known of the one before is no longer.
        #
        # @return [Boolean] whether it is another one
        def aim(address)
          @lock.synchronize do
            next false if address == @address

            @address = address
            [@socket, @meters].each { |socket| socket&.close }
            @socket = line
            @meters = @asked_s = @heard_s = @peaks = nil
            true
          end
        end

        def answers? = !@heard_s.nil? && now - @heard_s < SILENT_S

        # Writes into the desk what differs between two patches. Where it refuses something, all else is done all the same:
        # what it has then differs from what was wanted in just that.
        #
        # @return [Integer] how many messages it took
        # @raise [Refused] naming what was refused
        def send_changes(before, after)
          messages = slot_messages(before, after) + send_messages(before, after) +
            flag_messages("/turn", before.turned, after.turned) + flag_messages("/power", before.powered, after.powered)
          refused = messages.filter_map { |address, *arguments| refusal(address, *arguments) }
          tell_stage(before, after)
          return messages.size if refused.empty?

          more = " and #{refused.size - REFUSALS_SAID} more" if refused.size > REFUSALS_SAID
          raise Refused, "the desk refused #{refused.size} of #{messages.size}: #{refused.first(REFUSALS_SAID).join("; ")}#{more}"
        end

        # Tells a simulated stage which gear and sources there are: a real one has them.
        def stage(show)
          parts = Exchange::ShowFile.write(Exchange::Template.staged(show)).b.scan(/.{1,#{PART_BYTES}}/mn)
          # The parts of two shows must not mix.
          @staging.synchronize { parts.each_with_index { |part, i| request("/stage", i, parts.size, part) } }
        end

        # One question, not a whole dump.
        #
        # @return [Array(String, String)] Patch::Scene#checksum of what the desk has, and
        #   Show::GearSum of the gear that stands there; a real desk knows no such thing: nil
        def sums
          sums = nil
          request("/sum") { |message| sums = message.to_a if message.address == "/state/sum" }
          sums
        end

        def checksum = sums&.first

        def has?(patch) = checksum == patch.checksum

        # Read part by part; datagrams can be lost, and somebody may turn a knob meanwhile, so it
        # is read again until it is what the desk's own checksum says.
        #
        # @return [Patch::Scene] what the desk says that it has
        # @raise [Failed]
        def state
          READ_TRIES.times do
            sum = checksum
            patch = read_state
            return patch if patch.checksum == sum
          end
          raise Failed, "what the desk says that it has could not be read whole"
        end

        # A simulated stage only: what is silent and planted there.
        #
        # @return [Hash] quiet, cut (the control line is), planted: kind, row and other of each fault
        # @raise [Failed]
        def simulation
          found = {quiet: false, cut: false, planted: []}
          request("/planted") do |message|
            case message.address
            when "/state/quiet", "/state/cut" then found[message.address.delete_prefix("/state/").to_sym] = message.to_a.first == 1
            when "/state/planted" then found[:planted] << %i[kind row other].zip(message.to_a).to_h
            end
          end
          found
        end

        # Controls that stand elsewhere than where they begin.
        #
        # @return [Hash] gain: {socket => dB}, fader: {channel => dB}, mute: [channels]
        # @raise [Failed]
        def controls
          found = {gain: {}, fader: {}, mute: []}
          request("/controls") do |message|
            place, value = message.to_a
            case message.address
            when "/state/gain", "/state/fader" then found[message.address.delete_prefix("/state/").to_sym][place] = value.round(1)
            when "/state/mute" then found[:mute] << place
            end
          end
          found
        end

        def control(address, place, value) = request(address, place, value)

        def simulate(address, *arguments) = request(address, *arguments)

        private

        # @return [String, nil] why it was refused
        def refusal(address, *arguments)
          request(address, *arguments)
          nil
        rescue Refused => e
          e.message
        end

        # Where microphones are plugged is the stage's business: only a simulated one can be
        # told, and it has its own musicians only.
        def tell_stage(before, after)
          changed(before.plugs, after.plugs).each do |row, socket|
            request("/plug", row, socket.to_s)
          rescue Refused
            next
          end
        end

        def line = UDPSocket.new.tap { |socket| socket.connect(@address.host, @address.port) }
        def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

        def slot_messages(before, after)
          changed(before.slots, after.slots).map do |slot, take|
            ["/slot", slot, take&.from.to_s, take&.tap.to_s, (take&.delay_ms || 0.0).to_f]
          end
        end

        def send_messages(before, after)
          changed(flat(before.sends), flat(after.sends)).map do |(channel, mix), send|
            send ? ["/send", channel, mix, send.tap, send.level_db.to_f] : ["/unsend", channel, mix]
          end
        end

        def flag_messages(address, before, after) = (before ^ after).map { |id| [address, id, after.include?(id) ? 1 : 0] }
        def changed(before, after) = (before.keys | after.keys).reject { |key| before[key] == after[key] }.map { |key| [key, after[key]] }
        def flat(sends) = sends.flat_map { |channel, mixes| mixes.map { |mix, send| [[channel, mix], send] } }.to_h

        def request(address, *arguments, &state)
          @lock.synchronize do
            @id += 1
            packet = OSC::Message.new(address, @id, *arguments).encode
            drop_late_answers
            TRIES.times do
              @socket.send(packet, 0)
              return if answered?(&state)
            rescue SystemCallError
              sleep ANSWER_S
            end
            raise Failed, "the desk does not answer"
          end
        end

        # What a desk answers after nobody waits any more must not be taken for the answer to
        # the next question.
        def drop_late_answers
          loop { @socket.recv_nonblock(65_535) }
        rescue IO::WaitReadable, SystemCallError
          nil
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

        def read_state
          patch = Patch::Scene.new
          first = 0
          loop do
            total = 0
            request("/dump", first, PART_ENTRIES) do |message|
              (message.address == "/state/count") ? total = message.to_a.first : patch = add_state(patch, message)
            end
            first += PART_ENTRIES
            return patch if first >= total
          end
        end

        def add_state(patch, message)
          first, second, third, fourth = message.to_a
          case message.address
          when "/state/slot" then patch.with_slots(first => Patch::Pick.new(from: second, tap: third.empty? ? nil : third, delay_ms: fourth.to_f))
          when "/state/plug" then patch.with_plug(first, second)
          when "/state/turn" then patch.with_turned(first, true)
          when "/state/power" then patch.with_power(first, true)
          when "/state/send" then patch.with_send(first, second, Patch::Send.new(tap: third, level_db: fourth.to_f.round(2)))
          else patch
          end
        end

        # One frame, or half a second without. A desk that is not there is asked again.
        def follow_meters
          meters = @meters ||= line
          meters.send(OSC::Message.new("/meters", 0).encode, 0).then { @asked_s = now } if @asked_s.nil? || now - @asked_s > METERS_AGAIN_S
          return unless meters.wait_readable(0.5)

          message = OSC::OSCPacket.messages_from_network(meters.recvfrom(65_535).first).first
          heard(message) if meters.equal?(@meters)
        rescue SystemCallError, IOError
          # Also a line that was closed because another desk is spoken to now.
          sleep 0.5
        end

        def heard(message)
          @heard_s = now
          @peaks = message.to_a.first.unpack("e*") if message.address == "/meters"
        end
      end
    end
  end
end
