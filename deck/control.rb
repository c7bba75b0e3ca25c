# frozen_string_literal: true

module Loomshuttle
  module Deck
    # How the deck is spoken to: each request of the contract to the player, and ten times a
    # second what plays to whoever subscribed.
    class Control
      PER_S = 10
      # The player renders what is missing so often; a second lies ready.
      TURN_S = 0.02
      COLLECT_S = 1.0
      KNOWN = %w[status play locate loop gain stop measure ping subscribe].freeze
      private_constant :PER_S, :COLLECT_S, :TURN_S, :KNOWN

      # @param path [String] of the socket
      # @param player [Player]
      # @param programs [Programs]
      # @param shared [Shared]
      # @param memory_path [String] what plays, for a deck that is started again
      def initialize(player, path:, programs:, shared:, memory_path:, tell: nil)
        @player, @programs, @shared = player, programs, shared
        @memory = Memory.new(memory_path)
        go_on
        contract = Runtime::LineContract.new(Shelf.api, "Deck", KNOWN)
        @line = Runtime::LineServer.new(path, contract: contract, tell: tell) { |request| act(request) }
        Runtime::Loop.start("render", pause_s: TURN_S, tell: tell) { @player.turn && nil }
        # Arrays of samples are not in the collector's accounts: left alone it would let a hundred
        # megabytes of them pile up.
        Runtime::Loop.start("collect", pause_s: COLLECT_S, tell: tell) { GC.start(full_mark: false) }
        Runtime::Loop.start("publish", pause_s: 1.0 / PER_S, tell: tell) { @line.publish(deck: status) if @line.subscribers? }
      end

      private

      def act(request)
        case request["do"]
        when "status" then status
        when "play" then play(request)
        when "stop" then stop
        when "measure" then RoundTrip.new(@player, -> { @shared.capture }, -> { @shared.clock }).measure(request["lane_out"], request["lane_in"])
        when "ping" then ping(request)
        else {at_frame: change(playing, request)}
        end
      end

      def playing = @player.program || raise(BadInput.new(field: "playing", value: nil, allowed: "something that plays"))

      def play(request)
        program = @programs.build(request)
        at_frame = @player.start(program, position: request.fetch("from_frame", 0), at_frame: request["at_frame"])
        @memory.keep(request, at_frame, request.fetch("from_frame", 0))
        {at_frame: at_frame, length_frames: program.length_frames}
      rescue BadInput
        program&.voices&.each { |voice| voice.source.close }
        raise
      end

      # Begins as soon as it lies ready; whoever listens is told from which device frame on. A deck that died would not
      # go on with it.
      def ping(request)
        raise BadInput.new(field: "playing", value: @player.program.label, allowed: "nothing that plays while a ping is sent; stop it first") if @player.program

        now = @shared.clock or raise BadInput.new(field: "device", value: nil, allowed: "a device that is running")
        @memory.forget
        {at_frame: @player.start(@programs.ping(request, now.rate_hz)), rate_hz: now.rate_hz}
      end

      def stop
        @memory.forget
        @player.stop
        true
      end

      # A deck that died is silent for as long as it was away, and then where it would be by now.
      def go_on
        kept = @memory.kept or return
        clock = @shared.clock or return
        program = @programs.build(kept["request"])
        ahead = clock.frame + clock.block_frames * 8
        position = kept["position"] + ahead - kept["at_frame"]
        return @memory.forget if position.negative? || program.fold(position).nil?

        @player.start(program, position: program.fold(position), at_frame: ahead)
      rescue BadInput => e
        warn "deck: what played cannot go on: #{e.message}"
      end

      def change(program, request)
        case request["do"]
        when "locate" then located([request["frame"], program.length_frames - 1].min, program)
        when "loop" then changed(program.with_loop(range(program, request)), "loop" => request["loop"])
        when "gain" then changed(program.with_gains(request["gains_db"].transform_values(&:to_f)), "gains_db" => request["gains_db"])
        end
      end

      def located(position, program)
        @player.swap(program, position: position).tap { |at_frame| @memory.change(at_frame, position) }
      end

      def changed(program, what)
        @player.swap(program).tap { |at_frame| @memory.change(at_frame, @player.position_of(at_frame), what) }
      end

      def range(program, request)
        from, to = request["loop"]
        return nil unless from

        to = [to || program.length_frames, program.length_frames].min
        raise BadInput.new(field: "loop", value: "#{from} to #{to}", allowed: "a beginning before its end") if from >= to

        from...to
      end

      def status
        program = @player.program
        {playing: program && {label: program.label, key: program.key, position_frames: @player.position_frames || 0, length_frames: program.length_frames,
                              repeat: program.endless?, loop: program.loop_frames && [program.loop_frames.begin, program.loop_frames.end],
                              peak_dbfs: @player.peaks_dbfs, overs: @player.overs, late_blocks: @player.late, failed: @player.failed}}
      end
    end
  end
end
