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
      # A ping waits for no disk: it begins when less lies ready.
      PING_READY_S = 0.2
      KNOWN = %w[status play pause locate loop jump gain mute solo stop measure ping subscribe].freeze
      private_constant :PER_S, :COLLECT_S, :TURN_S, :PING_READY_S, :KNOWN

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
        Runtime::Loop.start("render", pause_s: TURN_S, tell: tell) { turn }
        # Arrays of samples are not in the collector's accounts: left alone it would let a hundred
        # megabytes of them pile up.
        Runtime::Loop.start("collect", pause_s: COLLECT_S, tell: tell) { GC.start(full_mark: false) }
        Runtime::Loop.start("publish", pause_s: 1.0 / PER_S, tell: tell) { @line.publish(deck: status) if @line.subscribers? }
      end

      private

      # What is missing is rendered; a jump that was due has been made by then.
      def turn
        @player.turn
        note_jump
      end

      def act(request)
        case request["do"]
        when "status" then status
        when "play" then play(request)
        when "stop" then stop
        when "pause" then pause(request["on"])
        when "measure" then RoundTrip.new(@player, -> { @shared.capture }, -> { @shared.clock }).measure(request["lane_out"], request["lane_in"])
        when "ping" then ping(request)
        else @paused ? change_paused(request) : {at_frame: change(playing, request)}
        end
      end

      def playing = @player.program || raise(BadInput.new(field: "playing", value: nil, allowed: "something that plays"))

      def play(request)
        position = request.fetch("from_frame", 0)
        ready = ready(request, position)
        begun(request, ready, @player.go(ready, at_frame: request["at_frame"]))
      rescue BadInput
        ready&.close
        raise
      end

      def begun(request, ready, at_frame)
        @memory.keep(request, at_frame, ready.position)
        let_go
        {at_frame: at_frame, length_frames: ready.program.length_frames}
      end

      # @return [Player::Ready]
      # @raise [BadInput]
      def ready(request, position)
        program = @programs.build(request)
        @player.ready(program, position: position)
      rescue BadInput
        program&.voices&.each { |voice| voice.source.close }
        raise
      end

      # What is paused uses no lane, and lies ready where it stopped.
      Paused = Struct.new(:request, :position, :length_frames, :ready)
      private_constant :Paused

      def pause(on)
        return go_on_from_pause unless on
        return true if @paused

        program = playing
        kept = @memory.kept or raise BadInput.new(field: "playing", value: program.label, allowed: "a take or a song")
        position = [program.fold(@player.position_frames || 0) || 0, program.length_frames - 1].min
        @player.stop
        hold(kept["request"], position, program.length_frames)
        true
      end

      # What cannot be made ready says so when it is to go on.
      def hold(request, position, length_frames)
        let_go
        @memory.keep_paused(request, position, length_frames)
        made = begin
          ready(request, position)
        rescue BadInput
          nil
        end
        @paused = Paused.new(request, position, length_frames, made)
      end

      def let_go
        @paused&.ready&.then { |ready| ready.close unless @player.program.equal?(ready.program) }
        @paused = nil
      end

      def go_on_from_pause
        paused = @paused or return true
        return play(paused.request.merge("from_frame" => paused.position)) unless paused.ready

        begun(paused.request, paused.ready, @player.go(paused.ready))
      end

      # It holds when it goes on.
      def change_paused(request)
        now = @paused.request
        case request["do"]
        when "jump" then return held_at([request["frame"] || @paused.position, @paused.length_frames - 1].min)
        when "locate" then return held_at([request["frame"], @paused.length_frames - 1].min)
        when "loop" then changed = {"loop" => request["loop"]}
        when "gain" then changed = {"gains_db" => {**now.fetch("gains_db", {}), **request["gains_db"]}}
        when "mute" then changed = {"muted" => request["keys"]}
        when "solo" then changed = {"solo" => request.slice("key", "lanes")}
        end
        held_at(@paused.position, changed)
      end

      def held_at(position, changed = {})
        hold(@paused.request.merge(changed), position, @paused.length_frames)
        {at_frame: nil}
      end

      # Begins as soon as it lies ready; whoever listens is told from which device frame on. A deck that died would not
      # go on with it.
      def ping(request)
        held = @player.program&.label || @paused&.request&.fetch("label")
        raise BadInput.new(field: "playing", value: held, allowed: "nothing that plays or is paused while a ping is sent; stop it first") if held

        now = @shared.clock or raise BadInput.new(field: "device", value: nil, allowed: "a device that is running")
        @memory.forget
        {at_frame: @player.start(@programs.ping(request, now.rate_hz), ready_s: PING_READY_S), rate_hz: now.rate_hz}
      end

      def stop
        let_go
        @memory.forget
        @player.stop
        true
      end

      # A deck that died is silent for as long as it was away, and then where it would be by now; what was paused is
      # paused.
      def go_on
        kept = @memory.kept or return
        return hold(*kept.values_at("request", "position", "length_frames")) if kept["paused"]

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
        when "jump" then jump(program, request)
        when "locate" then located([request["frame"], program.length_frames - 1].min, program)
        when "loop" then changed(@programs.looped(program, request["loop"]), "loop" => request["loop"])
        when "gain" then changed(program.with_gains(request["gains_db"].transform_values(&:to_f)), "gains_db" => {**kept.fetch("gains_db", {}), **request["gains_db"]})
        when "mute" then changed(program.with_muted(request["keys"]), "muted" => request["keys"])
        when "solo" then changed(program.with_solo(request["key"], request["lanes"] || []), "solo" => request.slice("key", "lanes"))
        end
      end

      # At the next beat, bar, or place of the program; where it goes round there is no loop any more. Without a frame it is
      # let go.
      def jump(program, request)
        return @player.let_go && nil if request["frame"].nil?

        here = program.fold(@player.position_frames || 0) || 0
        at = request["at_frame"] || boundary(program, here, request["at"])
        @player.arm(position: [request["frame"], program.length_frames - 1].min, at: at).tap { note_jump }
      end

      # @return [Integer] program frame of the next beat or bar
      # @raise [BadInput] where nothing has bars
      def boundary(program, here, what)
        bars = program.bars or raise BadInput.new(field: "at", value: what, allowed: "what has bars and beats: a song with a tempo")
        at = (what == "bar") ? bars.next_bar(here, program.rate_hz) : bars.next_beat(here, program.rate_hz)
        # A loop that ends before comes round first.
        program.loop_frames ? [at, program.loop_frames.end - 1].min : at
      end

      def note_jump
        at_frame, position = @player.jumped
        @memory.change(at_frame, position, "loop" => nil) if at_frame
        nil
      end

      # What was asked for, as far as it is known.
      def kept = @memory.kept&.fetch("request") || {}

      def located(position, program)
        @player.swap(program, position: position).tap { |at_frame| @memory.change(at_frame, position) }
      end

      def changed(program, what)
        @player.swap(program).tap { |at_frame| @memory.change(at_frame, @player.position_of(at_frame), what) }
      end

      def status
        return paused_status if @paused

        program = @player.program
        {playing: program && {**said(program, kept), paused: false, **sounding}}
      end

      def sounding
        position = @player.position_frames || 0
        {position_frames: position, armed: @player.armed, place: @player.program&.place(position), peak_dbfs: @player.peaks_dbfs, overs: @player.overs, late_blocks: @player.late,
         failed: @player.failed}
      end

      def said(program, request)
        {label: program.label, key: program.key, length_frames: program.length_frames, repeat: program.endless?,
         loop: program.loop_frames && [program.loop_frames.begin, program.loop_frames.end], **mixed(request)}
      end

      # What two who operate see the same.
      def mixed(request) = {gains_db: request.fetch("gains_db", {}), muted: request.fetch("muted", []), solo: request.dig("solo", "key")}

      def paused_status
        request = @paused.request
        loop = request["loop"]&.then { |from, to| [from, to || @paused.length_frames] }
        {playing: {label: request["label"], key: request["key"], length_frames: @paused.length_frames, repeat: !loop.nil?, loop: loop, **mixed(request),
                   paused: true, position_frames: @paused.position, place: @paused.ready&.program&.place(@paused.position), peak_dbfs: [], overs: {}, late_blocks: 0, failed: {}}}
      end
    end
  end
end
