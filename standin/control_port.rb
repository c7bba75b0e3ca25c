# frozen_string_literal: true

require "osc-ruby"
require "socket"

module Loomshuttle
  module Standin
    # Control of the simulated desk: OSC 1.0 over UDP on loopback, with an address space
    # of our own. Every request begins with an integer id and is answered with
    # `/ok ,i id` or `/no ,is id why`.
    #
    #   /slot   ,isssf  id slot from tap delay_ms   an empty `from` clears
    #   /plug   ,iss    id row socket               where a microphone is plugged
    #   /send   ,isssf  id channel mix tap level_db
    #   /unsend ,iss    id channel mix
    #   /gain   ,isf    /fader ,isf    /mute ,isi
    #   /turn   ,isi    id channel-or-desk on        over to its second set, or back
    #   /power  ,isi    id socket on                 phantom power
    #   /stage  ,iiis   id part parts text           a show file in parts: gear was carried in
    #   /sum    ,i      answers /state/sum ,ss (Patch::Scene#checksum, Show::GearSum), then /ok
    #   /dump   ,iii    id first count   answers /state/count ,i (how many entries there are),
    #                   then those entries as /state/... messages, then /ok
    #   /controls ,i    answers /state/gain ,sf of every preamp and /state/fader ,sf of every channel that is not at 0 dB,
    #                   /state/mute ,s of every channel that is muted, then /ok
    #   /quiet  ,ii     id on                        nobody plays, as in a line check
    #   /cut    ,ii     id on                        from then on only what is the simulation's own is answered
    #   /tap    ,is     id row                       somebody scratches there
    #   /plant  ,isss   id kind row other            a fault of Simulation::FAULTS; other only for two that are swapped;
    #                                                channels instead of rows for those of the way back
    #   /unplant ,iss   id kind row                  it is mended; all are, with an empty kind
    #   /planted ,i     answers /state/quiet ,i, /state/cut ,i and /state/planted ,sss, then /ok
    #   /meters ,i      answers /meters ,b (float32 peaks) 20 times a second for 5 s
    #
    # A search, `/find ,i id` to the multicast group of Runtime::SearchGroup, is answered from this
    # port with `/here ,is id name`.
    class ControlPort
      ACTIONS = {"/slot" => :slot,
                 "/plug" => :plug,
                 "/send" => :route,
                 "/unsend" => :unroute,
                 "/gain" => :gain,
                 "/fader" => :fader,
                 "/mute" => :mute,
                 "/turn" => :turn,
                 "/power" => :power,
                 "/quiet" => :quiet,
                 "/cut" => :cut,
                 "/tap" => :tap,
                 "/plant" => :plant,
                 "/unplant" => :unplant}.freeze
      # What is no desk's business but the simulation's.
      OWN = %w[/quiet /cut /tap /plant /unplant /planted /stage].freeze
      METERS_FOR_S = 5
      private_constant :ACTIONS, :OWN, :METERS_FOR_S

      # @param codec [Exchange::ShowFile] reads a stage
      # @yield after every change of the console
      def initialize(console, port:, codec:, &changed)
        @console = console
        @codec = codec
        @changed = changed
        @socket = UDPSocket.new
        @socket.bind("127.0.0.1", port)
        @listeners = {}
        Runtime::Loop.start("control", retry_s: 0.05) { serve }
        be_found
      end

      # @param peaks [Numo::SFloat] channels, mixes, listeners
      def send_meters(peaks)
        now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        @listeners.delete_if { |_, until_s| until_s < now }
        return if @console.simulation.cut

        packet = OSC::Message.new("/meters", OSC::OSCBlob.new(peaks.to_binary)).encode
        @listeners.each_key { |host, port| @socket.send(packet, 0, host, port) }
      end

      private

      # A machine without multicast has a desk that is only found by its address.
      def be_found
        searches = Runtime::SearchGroup.listen
        Runtime::Loop.start("search", retry_s: 1) { answer_search(*searches.recvfrom(65_535)) }
      rescue SystemCallError => e
        warn "The simulated desk answers no search: #{e.message}"
      end

      # What is no search is for somebody else, and not answered.
      def answer_search(data, sender)
        message = OSC::OSCPacket.messages_from_network(data).first
        id = message.to_a.first
        reply([sender[3], sender[1]], "/here", id, @console.name) if message.address == "/find" && id.is_a?(Integer)
      rescue
        nil
      end

      def serve
        data, sender = @socket.recvfrom(65_535)
        answer(data, [sender[3], sender[1]])
      rescue SystemCallError
        # A listener that went away is told so by the network; the next message is read.
        nil
      end

      def answer(data, to)
        message = OSC::OSCPacket.messages_from_network(data).first
        id, *arguments = message.to_a
        return if @console.simulation.cut && !OWN.include?(message.address)

        refused = act(message.address, arguments, to)
        reply(to, *(refused ? ["/no", id, refused] : ["/ok", id]))
      rescue => e
        # Whatever a stranger sends to the port is answered, and never ends the desk.
        reply(to, "/no", id.to_i, "not understood: #{e.message[0, 100]}")
      end

      def act(address, arguments, to)
        case address
        when "/stage" then return stage(*arguments)
        when "/sum" then reply(to, "/state/sum", @console.checksum, @console.gear_sum)
        when "/dump" then dump(*arguments, to)
        when "/controls" then tell_controls(to)
        when "/planted" then tell_simulation(@console.simulation, to)
        when "/meters" then @listeners[to] = Process.clock_gettime(Process::CLOCK_MONOTONIC) + METERS_FOR_S
        else
          action = ACTIONS[address] or return "there is no #{address}"
          refused = @console.public_send(action, *arguments)
          @changed.call unless refused
          return refused
        end
        nil
      end

      # Parts may come again, in any order; the last one that was missing sets the stage up.
      def stage(part, parts, text)
        @parts = {} if @parts.nil? || @parts_wanted != parts || part.zero?
        @parts_wanted = parts
        @parts[part] = text
        return nil if @parts.size < parts

        refused = @console.restage(@codec.parse(@parts.sort.map(&:last).join.force_encoding("UTF-8")))
        @changed.call unless refused
        refused
      end

      def tell_controls(to)
        {"/state/gain" => @console.gains_db, "/state/fader" => @console.faders_db}.each { |address, values| values.each { |id, db| reply(to, address, id, db) unless db.zero? } }
        @console.mutes.each { |channel, muted| reply(to, "/state/mute", channel) if muted }
      end

      def tell_simulation(simulation, to)
        reply(to, "/state/quiet", simulation.quiet ? 1 : 0)
        reply(to, "/state/cut", simulation.cut ? 1 : 0)
        simulation.planted.each { |fault| reply(to, "/state/planted", fault.kind, fault.row, fault.other) }
      end

      # A part of the state: a whole one at once would overrun whoever asks.
      def dump(first, count, to)
        all = entries(@console.show.patch)
        reply(to, "/state/count", all.size)
        all.slice(first, count)&.each { |entry| reply(to, *entry) }
      end

      def entries(patch)
        [*patch.slots.map { |slot, take| ["/state/slot", slot, take.from, take.tap.to_s, take.delay_ms] },
          *patch.turned.map { |id| ["/state/turn", id] },
          *patch.powered.map { |id| ["/state/power", id] },
          *patch.plugs.map { |row, socket| ["/state/plug", row, socket] },
          *patch.sends.flat_map { |channel, mixes| mixes.map { |mix, send| ["/state/send", channel, mix, send.tap, send.level_db] } }]
      end

      def reply(to, address, *arguments)
        @socket.send(OSC::Message.new(address, *arguments).encode, 0, *to)
      end
    end
  end
end
