# frozen_string_literal: true

require "securerandom"
require "time"

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
      KNOWN = %w[status play pause locate loop jump retime gain mute solo stop fade hush queue measure ping pinged subscribe].freeze
      # What follows by itself is handed to the player so long before its moment.
      HAND_OVER_S = 0.2
      # What is not ready so long behind its moment does not begin by itself any more: nobody expects it then.
      LATE_S = 1.0
      FAULTS_MAX = 20
      private_constant :FAULTS_MAX, :PER_S, :COLLECT_S, :TURN_S, :PING_READY_S, :KNOWN, :HAND_OVER_S, :LATE_S

      # @param path [String] of the socket
      # @param player [Player]
      # @param programs [Programs]
      # @param shared [Shared]
      # @param memory_path [String] what plays, for a deck that is started again
      def initialize(player, path:, programs:, shared:, memory_path:, tell: nil)
        @player, @programs, @shared = player, programs, shared
        @memory = Memory.new(memory_path)
        @standing = Standing.new(@memory) { |request, position| ready(request, position) }
        @following = Following.new { |request| ready(request, request.fetch("from_frame", 0)) }
        @whole = Monitor.new
        @faults = []
        go_on
        contract = Runtime::LineContract.new(Shelf.api, "Deck", KNOWN)
        @line = Runtime::LineServer.new(path, contract: contract, tell: tell) { |request| act(request) }
        Runtime::Loop.start("render", pause_s: TURN_S, tell: tell) { turn }
        Runtime::Loop.start("next song", pause_s: TURN_S, retry_s: 1, tell: tell) { @following.turn }
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
        @player.told&.then { |words| fault(words) }
        # Whoever asks for something long does not keep it from rendering.
        return unless @whole.try_enter

        begin
          follow
        ensure
          @whole.exit
        end
      end

      # Told with every status: whoever keeps alarms knows by the key which of them he has.
      def fault(words)
        @faults = [*@faults, {key: "deck/#{SecureRandom.uuid}", about: "playing", words: words, at: Time.now.utc.iso8601(3)}].last(FAULTS_MAX)
      end

      # What is asked for and what follows by itself, one after the other.
      def act(request)
        return status if request["do"] == "status"

        @whole.synchronize { acted(request) }
      end

      def acted(request)
        case request["do"]
        when "play" then play(request)
        when "stop" then stop
        when "pause" then pause(request["on"])
        when "measure" then RoundTrip.new(@player, -> { @shared.capture }, -> { @shared.clock }).measure(request["lane_out"], request["lane_in"])
        when "ping" then ping(request)
        when "pinged" then {at_frame: @pinged, late_blocks: @player.late}
        when "queue" then queue(request)
        when "fade" then {at_frame: fade(request)}
        when "hush" then {at_frame: hush(request["on"])}
        when "retime" then {at_frame: retime(request)}
        else @standing.held ? @standing.change(request) && {at_frame: nil} : {at_frame: change(playing, request)}
        end
      end

      def playing = @player.program || raise(BadInput.new(field: "playing", value: nil, allowed: "something that plays"))

      def play(request)
        refuse_other(request) if request.key?("instead_of")
        position = request.fetch("from_frame", 0)
        ready = ready(request, position)
        begun(request, ready, @player.go(ready, at_frame: request["at_frame"]))
      rescue BadInput
        ready&.close
        raise
      end

      # Whoever presses on an old page, or at once with somebody else, cuts nothing off that he does not know of.
      def refuse_other(request)
        now = @player.program unless @standing.held
        return if now&.key == request["instead_of"]

        raise BadInput.new(field: "playing", value: now&.label, allowed: "what was on the page when somebody pressed; look again")
      end

      def begun(request, ready, at_frame)
        @memory.keep(request, at_frame, ready.position)
        @standing.let_go
        @following.replace(request.fetch("queue", []))
        @ends = @due = nil
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

      def pause(on)
        return go_on_from_pause unless on
        return true if @standing.held

        program = playing
        kept = @memory.kept or raise BadInput.new(field: "playing", value: program.label, allowed: "a take or a song")
        position = [program.fold(@player.position_frames || 0) || 0, program.length_frames - 1].min
        @player.stop
        @standing.hold(kept["request"], position, program.length_frames)
        true
      end

      def go_on_from_pause
        held = @standing.held or return true
        return play(held.request.merge("from_frame" => held.position)) unless held.ready

        at_frame = @player.go(held.ready)
        @standing.given
        begun(held.request, held.ready, at_frame)
      end

      # Begins as soon as it lies ready; whoever listens is told from which device frame on. A deck that died would not
      # go on with it.
      def ping(request)
        held = @player.program&.label || @standing.held&.label || (@following.to_data&.fetch(:label) if @due)
        raise BadInput.new(field: "playing", value: held, allowed: "nothing that plays, is paused or is about to begin while a ping is sent; stop it first") if held

        now = @shared.clock or raise BadInput.new(field: "device", value: nil, allowed: "a device that is running")
        @memory.forget
        @pinged = @player.start(@programs.ping(request, now.rate_hz), ready_s: PING_READY_S)
        {at_frame: @pinged, rate_hz: now.rate_hz}
      end

      def stop
        @standing.let_go
        @following.replace([])
        @due = nil
        @memory.forget
        @player.stop
        true
      end

      # What is played after what plays or is paused, or what is waited for and what comes behind it; what stands ready for Go is
      # played as it is said to be now.
      #
      # @param request [Hash] DeckQueue of the contract
      def queue(request)
        requests = request["queue"]
        refuse_overtaken(request["behind"]) if request.key?("behind")
        if @standing.held
          @standing.anew(request["standing"]) if request["standing"]
          @standing.queue(requests)
        elsif !(@due && @player.program.nil?)
          program = playing
          clock = @shared.clock
          @memory.change(clock.frame, @player.position_of(clock.frame), "queue" => requests) if clock && program
        end
        @following.replace(requests)
        @memory.keep_waiting(requests, @due) if @due && @player.program.nil? && !@standing.held
        true
      end

      # A song may have begun since somebody looked: it would come twice.
      def refuse_overtaken(key)
        now = (@standing.held || @player.program)&.key
        raise BadInput.new(field: "behind", value: key, allowed: now || "nothing, for nothing plays") unless now == key
      end

      # Softer until it is over.
      def fade(request)
        playing
        @due = nil
        @player.fade(to: 0.0, seconds: request["seconds"], stops: true)
      end

      # All lanes silent while it plays on, or as loud as before.
      def hush(on)
        program = playing
        at_frame = on ? @player.hush : @player.fade(to: 1.0, seconds: BACK_S)
        clock = @shared.clock
        @memory.change(clock.frame, @player.position_of(clock.frame), "hushed" => on) if clock && program
        at_frame
      end

      # From silence to as loud as before.
      BACK_S = 0.005
      private_constant :BACK_S

      # At the end of what plays: the next one begins by itself, or lies paused and ready.
      def follow
        return if @standing.held

        clock = @shared.clock or return
        program = @player.program
        program ? expect_end(program) : ended(clock)
        begin_next(clock) if @due && clock.frame >= @due - HAND_OVER_S * clock.rate_hz
      end

      # A jump, a loop or a stop at a bar changes when that is.
      def expect_end(program)
        # What goes round has no end but by a stop.
        ending = @player.end_frame unless @player.fading?
        @ends = ending || Float::INFINITY
        waits_s = waits_s(kept)
        @due = ending && waits_s && ending + waits_s * program.rate_hz
      end

      # What was stopped has nothing behind it.
      def ended(clock)
        return unless @ends

        came = clock.frame >= @ends
        after = kept["after"]
        @ends = nil
        return @memory.keep_waiting(@following.requests, @due) if came && @due && %w[on wait].include?(after)

        @due = nil
        (came && after == "go") ? stand_by : @following.replace([])
        @memory.forget unless @standing.held
      end

      # The next one lies where it begins, for whoever says Go.
      def stand_by
        request, made = @following.take
        return unless made

        @standing.stand(request, made)
        @following.replace(request["queue"])
      end

      # A moment late is better than never. What comes later waits for Go, and why it is not ready is said.
      def begin_next(clock)
        return @due = nil if clock.frame > @due + LATE_S * clock.rate_hz

        request, made = @following.take
        return unless made

        at_frame = [@due, clock.frame + (HAND_OVER_S * clock.rate_hz / 2).round].max
        request = request.merge("hushed" => true) if @player.hushed?
        begun(request, made, @player.go(made, at_frame: at_frame))
      rescue BadInput => e
        made&.close
        warn "deck: what comes next cannot begin: #{e.message}"
      end

      # A deck that died is silent for as long as it was away, and then where it would be by now; what was paused is
      # paused.
      def go_on
        kept = @memory.kept or return
        @following.replace(kept["request"].fetch("queue", []))
        return @standing.hold(*kept.values_at("request", "position", "length_frames")) if kept["paused"]
        return @due = kept["at_frame"] if kept["waiting"]

        clock = @shared.clock or return
        program = @programs.build(kept["request"])
        ahead = clock.frame + clock.block_frames * 8
        position = kept["position"] + ahead - kept["at_frame"]
        return ended_meanwhile(kept, program) if position.negative? || program.fold(position).nil?

        @player.start(program, position: program.fold(position), at_frame: ahead)
        @player.hush if kept["request"]["hushed"]
      rescue => e
        # Whatever it is: a deck that does not start plays nothing else either.
        warn "deck: what played cannot go on: #{e.full_message(highlight: false)}"
        fault("What played when the deck ended cannot go on: #{e.message.lines.first.strip}")
      end

      # What was to follow by itself follows as it would have; behind a stop there is nothing.
      def ended_meanwhile(kept, program)
        waits_s = waits_s(kept["request"])
        program.voices.each { |voice| voice.source.close }
        return @memory.forget unless waits_s

        @due = kept["at_frame"] + program.length_frames - kept["position"] + waits_s * program.rate_hz
        @memory.keep_waiting(@following.requests, @due)
      end

      # @return [Integer, nil] so long behind its end what is next begins by itself
      def waits_s(request) = {"on" => 0, "wait" => request.fetch("wait_s", 0)}[request["after"]]

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
      # let go, or it stops there.
      def jump(program, request)
        return @player.let_go && nil if request["frame"].nil? && !request["stop"]

        here = program.fold(@player.position_frames || 0) || 0
        at = request["at_frame"] || program.following(request["at"], here) ||
          raise(BadInput.new(field: "at", value: request["at"], allowed: "what has bars and beats: a song with a tempo"))
        @player.arm(position: request["frame"]&.then { |frame| [frame, program.length_frames - 1].min }, at: at).tap { note_jump }
      end

      def note_jump
        at_frame, position, other = @player.jumped
        @memory.change(at_frame, position, {"loop" => nil}.merge(other || {})) if at_frame
        nil
      end

      # What of a song is another at another tempo; what is not said has it no more.
      OF_TEMPO = %w[label rate_hz voices click bars order percent].to_h { |field| [field, nil] }.freeze
      private_constant :OF_TEMPO

      # The same song at another tempo from a place on; what is muted and how loud stays as it is by then.
      def retime(request)
        refuse_other_song(request["wish"]["key"])
        program = @programs.build(request["wish"])
        @player.warm(program, request["frame"])
        @player.arm(position: request["frame"], at: request["at_frame"], program: program, tag: OF_TEMPO.merge(request["wish"].slice(*OF_TEMPO.keys))).tap { note_jump }
      rescue BadInput
        program&.voices&.each { |voice| voice.source.close }
        raise
      end

      def refuse_other_song(key)
        raise BadInput.new(field: "playing", value: @standing.held.label, allowed: "a song that plays; at its beginning, choose its tempo before Go") if @standing.held
        raise BadInput.new(field: "playing", value: playing.label, allowed: "the song that was on the page when somebody pressed; look again") unless playing.key == key
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
        held = @standing.held
        program, position, frame = @player.sounding || [@player.program, 0]
        playing = held ? Told.standing(held) : program && Told.playing(program, kept, @player, position, frame)
        {playing: playing, next: coming, faults: @faults}
      end

      # @return [Hash, nil] what is played next, and in how many seconds, where it begins by itself
      def coming
        due, clock = @due, @shared.clock
        @following.to_data&.merge(in_s: (due && clock) ? [(due - clock.frame).fdiv(clock.rate_hz).round(1), 0.0].max : nil)
      end
    end
  end
end
