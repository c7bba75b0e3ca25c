# frozen_string_literal: true

module Loomshuttle
  module Deck
    # Renders what plays into the playback ring, ahead of the engine's clock. All that is live is
    # one operation, `swap(program, position)`: what lies ready behind a near frame is rendered
    # again, with a short straight line from what sounded to what sounds. Start, stop, locate,
    # loop and a voice's gain are all this.
    #
    #   player = Player.new(-> { Rings... }, page)
    #   player.start(program, position: 0)
    #   player.turn            # from the deck's loop: renders what is not there yet
    class Player
      # What is not rendered yet takes hold so many blocks from now; another place, whose first blocks are rendered before
      # that is settled; what lies ready; and what goes on, or was decided for a moment that is near, rendered by then.
      SOON_BLOCKS = 4
      LOCATE_BLOCKS = 3
      NEAR_BLOCKS = 1
      GO_BLOCKS = Ahead::GO_BLOCKS
      # The line from before to after.
      BLEND_S = 0.005
      private_constant :SOON_BLOCKS, :LOCATE_BLOCKS, :NEAR_BLOCKS, :GO_BLOCKS, :BLEND_S

      # What is about to play, with its first second rendered: it sounds two blocks after somebody says so.
      Ready = Struct.new(:program, :position, :blocks, :made_for, :overs) do
        def close = program.voices.each { |voice| voice.source.close }
      end

      # What waits for its moment: at a device frame it goes elsewhere, to a position of what plays or of another program;
      # without one it stops.
      Armed = Struct.new(:position, :at_frame, :program, :tag)
      private_constant :Armed
      # It is rendered so long before.
      ARMED_S = 0.2
      # A device may be away so long; behind that nobody expects that what played goes on by itself.
      AWAY_S = 10.0
      private_constant :ARMED_S, :AWAY_S

      # @param ring [#call] => Rings::PlayRing of now, nil while there is no device
      # @param page [#call] => Rings::ClockPage::Reading, nil while there is no device
      # @param clock_s [#call] monotonic seconds
      def initialize(ring, page, clock_s: -> { Process.clock_gettime(Process::CLOCK_MONOTONIC) })
        @page, @clock_s = page, clock_s
        @lock = Mutex.new
        @ahead = Ahead.new(ring, page)
      end

      # @return [Integer] blocks that were rendered behind their frame
      def late = @ahead.late

      # @return [Hash{Integer => Integer}] per lane, samples over full scale that were clipped
      def overs = @ahead.overs

      # Fills a second before the first block, then begins.
      #
      # @param at_frame [Integer, nil] device frame at which position sounds; nil as soon as it is ready
      # @param ready_s [Float] what is filled before
      # @return [Integer] device frame of the first sample
      # @raise [BadInput] without a device
      def start(program, position: 0, at_frame: nil, ready_s: Ahead::READY_S)
        return go(ready(program, position: position, ready_s: ready_s)) unless at_frame

        # It is known for which frames: nothing is rendered before that would not sound.
        refuse_rate(program, reading)
        @ahead.begin_anew
        @lock.synchronize { swap_now(program, position, at_frame) }
      end

      # @return [Ready] for `go`
      # @raise [BadInput] without a device
      def ready(program, position: 0, ready_s: Ahead::READY_S)
        now = reading
        refuse_rate(program, now)
        overs = {}
        Ready.new(program, position, beginning(program, position, now, ready_s, overs), shape_of(now), overs)
      end

      # @param ready [Ready]
      # @return [Integer] device frame of its first sample
      # @raise [BadInput] without a device
      def go(ready, at_frame: nil)
        # Another device may be there by now.
        ready = ready(ready.program, position: ready.position) if ready.made_for != shape_of(reading)
        @ahead.begin_anew(ready.overs.dup)
        # Whoever says Go wants to hear it; what follows by itself stays as silent as all is.
        @fade = nil unless at_frame && hushed?
        @lock.synchronize do
          next swap_now(ready.program, ready.position, at_frame || soon(SOON_BLOCKS)) if at_frame || @now&.program

          begin_with(ready)
        end
      end

      # @param position [Integer, nil] nil goes on where it is
      # @return [Integer] device frame from which it holds
      def swap(program, position: nil)
        return changed(program) unless position

        lead = led(program, position)
        @lock.synchronize { swap_now(program, position, soon(lead ? LOCATE_BLOCKS : SOON_BLOCKS), lead) }
      end

      # Goes elsewhere when a place of the program is reached, and round no more; until then it can be let go.
      #
      # @param position [Integer, nil] where it goes; nil for a stop
      # @param at [Integer] program frame that is reached then; it lies before us, or within the loop that goes round
      # @param program [Render::Program, nil] another one that goes on there, as live as what plays by then; its sources are
      #   closed where that does not come about
      # @param tag [Object] told with the jump when it has been made
      # @return [Integer] device frame from which it holds
      # @raise [BadInput] for a place that lies behind us
      def arm(position:, at:, program: nil, tag: nil)
        @lock.synchronize do
          now = reading
          playing = @now&.program or raise BadInput.new(field: "playing", value: nil, allowed: "something that plays")
          wait = at - playing.fold(@now.position_at(now.frame)).to_i
          wait += playing.loop_frames.size if wait.negative? && playing.loop_frames&.cover?(at)
          raise BadInput.new(field: "at_frame", value: at, allowed: "a place that is still to come") if wait.negative?

          disarm
          @armed = Armed.new(position, now.frame + wait, program, tag)
          jump_if_due(now)
          @jumped ? @jumped.first : now.frame + wait
        end
      end

      def let_go = @lock.synchronize { disarm }

      # @return [Array(Integer or nil, Integer), nil] where it goes, nil for a stop, and in how many frames from now
      def armed
        waiting, now = @armed, @page.call
        [waiting.position, [waiting.at_frame - now.frame, 0].max] if waiting && now
      end

      # @return [Object, nil] of what is armed
      def armed_tag = @armed&.tag

      # Reads what another program begins with, so that no disk is waited for when it is due.
      def warm(program, position)
        now = reading
        refuse_rate(program, now)
        Render::Renderer.new(lanes: now.lanes_out).block(program, position, now.rate_hz)
      end

      # @return [Array(Integer, Integer, Object), nil] device frame, position and tag of a jump that was armed and has been made,
      #   told once
      def jumped = @lock.synchronize { @jumped.tap { @jumped = nil } }

      def stop = @lock.synchronize { swap_now(nil, nil, soon(SOON_BLOCKS)) if @now }

      # All of it, from as loud as it is now to `to`, on a straight line.
      #
      # @param to [Float] 0.0 or 1.0
      # @param stops [Boolean] it is over then
      # @return [Integer] device frame at which that is reached
      def fade(to:, seconds:, stops: false)
        @lock.synchronize do
          now = reading
          raise BadInput.new(field: "playing", value: nil, allowed: "something that plays") unless @now&.program

          frame = soon(SOON_BLOCKS)
          @fade = Fade.new(at_frame: frame, frames: [(seconds * now.rate_hz).round, 1].max, from: @fade&.ratio(frame) || 1.0, to: to.to_f, stops: stops)
          @ahead.back_to(frame, now)
          fill(now)
          @fade.end_frame
        end
      end

      # Every lane silent two blocks from now, at the end of one block that falls; what plays goes on unheard, or, where it
      # was fading out, is over.
      #
      # @return [Integer] device frame from which on all is silent
      def hush
        @lock.synchronize do
          now = reading
          frame = now.frame + GO_BLOCKS * now.block_frames
          fall = Fade.new(at_frame: frame, frames: now.block_frames, from: @fade&.ratio(frame) || 1.0, to: 0.0, stops: fading?)
          # What lies ready is as soft as it is by now.
          @ahead.fall(Fade.new(**fall.to_h, from: 1.0), now)
          @fade = fall
          @fade.end_frame
        end
      end

      # @return [Boolean] whether all is silent, or falls to it
      def hushed? = @fade.then { |fade| !fade.nil? && fade.silent? && !fade.stops }
      def fading? = @fade.then { |fade| !fade.nil? && fade.stops }

      # @return [Integer, nil] device frame at which what plays is over; nil for what goes round, and while nothing plays
      def end_frame
        @lock.synchronize do
          program = @now&.program
          @now.at_frame + program.length_frames - @now.position if program && !program.endless?
        end
      end

      # Renders until enough lies ready. Called again and again.
      #
      # @return [Boolean] whether anything was done
      def turn
        @lock.synchronize do
          now = @page.call
          return false unless @now
          return away unless now
          return over if @away_s && !back(now)
          return over if over?(now.frame)
          return over if @fade&.stops && now.frame >= @fade.end_frame

          @ahead.keep_up(now)
          @fade = nil if @fade && !@fade.silent? && now.frame >= @fade.end_frame
          close_retired(now)
          jump_if_due(now)
          fill(now)
        end
      end

      # @return [Array(Program, Integer, Integer), nil] what sounds now, its frame, and the device frame at which that sounds
      def sounding
        now, cue = @page.call, @now
        return unless now && cue

        cue = @before if @before&.program && now.frame < cue.at_frame
        position = [cue.position_at(now.frame), 0].max
        [cue.program, cue.program.fold(position) || cue.program.length_frames, now.frame] if cue.program
      end

      # @return [Program, nil] what plays, or will in a moment
      def program = @now&.program

      # @return [Integer, nil] program frame that sounds now
      def position_frames = sounding&.at(1)

      # @return [Array<Float>] dBFS of each lane in the block that sounds now
      def peaks_dbfs
        frame = @page.call&.frame or return []
        @lock.synchronize { @ahead.dbfs(frame) }
      end

      # @return [String, nil] what became of what played when the device went away, told once
      def told = @lock.synchronize { @told.tap { @told = nil } }

      # @return [Integer] position that sounds, or will, at a device frame
      def position_of(frame) = @now ? @now.position_at(frame) : 0

      # @return [Hash{String => String}] voices that could not be read, with what was said
      def failed = @renderer&.failed || {}

      private

      def reading = @page.call || raise(BadInput.new(field: "device", value: nil, allowed: "a device that is running; it does not answer"))

      def refuse_rate(program, now)
        return if program.rate_hz == now.rate_hz

        raise BadInput.new(field: "rate_hz", value: program.rate_hz, allowed: "the device's #{now.rate_hz} Hz; convert the file first")
      end

      def shape_of(now) = [now.rate_hz, now.block_frames, now.lanes_out]
      def soon(blocks) = reading.then { |now| now.frame + blocks * now.block_frames }

      # Goes on where it is, as another: what that begins with is rendered for frames that come in any case.
      def changed(program)
        from, before = soon(NEAR_BLOCKS), @now
        place = before&.program && from > before.at_frame && before.program.fold(before.position_at(from))
        lead = led(program, place) if place
        @lock.synchronize do
          frame = [soon(NEAR_BLOCKS), from].max
          # Where it is another by now, came round a loop meanwhile, or took too long, it is rendered again.
          held = lead && before.equal?(@now) && frame - from <= SOON_BLOCKS * reading.block_frames && before.program.fold(before.position_at(frame)) == place + frame - from
          swap_now(program, nil, held ? frame : soon(SOON_BLOCKS), held ? lead[true, (frame - from)..] : nil)
        end
      end

      # Rendered before it is known for which frames: that is settled when all of it is there.
      def beginning(program, position, now, ready_s, overs)
        renderer = Render::Renderer.new(lanes: now.lanes_out)
        count = [(ready_s * now.rate_hz / now.block_frames).floor, SOON_BLOCKS].max
        (0...count).step(Ahead::BATCH_BLOCKS).flat_map do |block|
          Wire.blocks(renderer.block(program, position + block * now.block_frames, [Ahead::BATCH_BLOCKS, count - block].min * now.block_frames), now.block_frames, overs)
        end
      end

      # @return [Numo::SFloat, nil] [lanes, frames] of the blocks with which a jump begins; nil while nothing plays
      def led(program, position, now = reading) = (@renderer.block(program, position, 2 * SOON_BLOCKS * now.block_frames) if @now&.program)

      def begin_with(ready)
        now = reading
        at_frame = @ahead.lay(ready.blocks, now)
        @before = nil
        @now = Cue.new(ready.program, at_frame, ready.position)
        renew(now, ready.program)
        at_frame
      end

      def swap_now(program, position, frame, lead = nil)
        now = reading
        playing = @now if @now&.program
        retire(playing, program)
        @before = playing
        # Whoever goes elsewhere by hand, or stops, wants nothing of what waited; a gain changes nothing about it.
        disarm if position || program.nil?
        # Behind a loop's end a position would go on counting: it is folded when something changes.
        going = playing&.position_at(frame) || 0
        place = position || playing&.program&.fold(going) || going
        @now = Cue.new(program, frame, place, lead)
        renew(now, program) unless playing && program
        @ahead.from(frame, now)
        fill(now)
        frame
      end

      # What is decided in the last moment holds as soon as it can.
      def jump_if_due(now)
        return unless @armed && @armed.at_frame - now.frame <= ARMED_S * now.rate_hz

        program, position, tag = @armed.program&.as_live_as(@now.program) || @now.program.with_loop(nil), @armed.position, @armed.tag
        # What could not be read at one tempo may well be at another.
        renew(now, program) if @armed.program
        at_frame, @armed = @armed.at_frame, nil
        lead = position && led(program, position, now)
        # That took a moment; a device that went in it is seen to have gone by the next turn.
        now = @page.call || now
        frame = [at_frame, now.frame + NEAR_BLOCKS * now.block_frames].max
        return swap_now(nil, nil, frame) unless position

        swap_now(program, position, frame, lead)
        @jumped = [frame, position, tag]
      end

      # What waited comes no more.
      def disarm
        sources_of(@armed&.program).each(&:close)
        @armed = nil
      end

      # Sources that the next program has not are closed when they have sounded.
      def retire(playing, program)
        return unless playing

        left = sources_of(playing.program) - sources_of(program)
        (@retired ||= []).concat(left)
      end

      def sources_of(program) = program ? program.voices.map(&:source) : []

      def renew(now, program)
        return unless program

        @renderer = Render::Renderer.new(lanes: now.lanes_out)
      end

      def fill(now) = @ahead.fill(now) { |frame, count| faded(render(frame, count, now), frame) }
      def faded(samples, frame) = (samples && @fade) ? samples * @fade.ratios(frame, samples.shape[1]) : samples

      # @return [Numo::SFloat, nil] [lanes, frames]; nil where nothing sounds
      def render(frame, count, now)
        blend = [(BLEND_S * now.rate_hz).round, 1].max
        before_until = @now.at_frame + blend
        return @now.samples(@renderer, frame, count) if frame >= before_until || (@before.nil? && frame >= @now.at_frame)

        mixed(frame, count, blend)
      end

      # A block in which one thing ends and another begins.
      def mixed(frame, count, blend)
        before = @before&.samples(@renderer, frame, count) || silence(count)
        after = @now.samples(@renderer, frame, count) || silence(count)
        first = [@now.at_frame - frame, 0].max.clamp(0, count)
        out = before.dup
        return out if first >= count

        after_part, before_part = after[true, first...count], before[true, first...count]
        out[true, first...count] = (@before && !ended?) ? Render::Renderer.blend(before_part, after_part, frame + first - @now.at_frame, blend) : after_part
        out
      end

      # What is joined to an end that was reached begins as it is.
      def ended? = @before.program.nil? || @before.program.fold(@before.position_at(@now.at_frame)).nil?
      def silence(count) = Numo::SFloat.zeros(@renderer.lanes, count)

      def close_retired(now)
        return if @retired.nil? || @retired.empty? || now.frame < @now.at_frame + now.rate_hz / 10

        @retired.each(&:close)
        @retired = []
        @before = nil
      end

      # What plays goes on in time, unheard: the device's frames count on without it.
      def away
        @away_s ||= @clock_s.call
        return false if @clock_s.call - @away_s <= AWAY_S

        @told = "#{now_label} has stopped: the audio device was away for more than #{AWAY_S.round} s."
        over
      end

      # It may be another device, or have other blocks.
      #
      # @return [Boolean] whether what played goes on with it
      def back(now)
        gone_s, @away_s = @clock_s.call - @away_s, nil
        label = now_label
        if @now.program && @now.program.rate_hz != now.rate_hz
          @told = "#{label} has stopped: the audio device came back at #{now.rate_hz} Hz."
          return false
        end
        went = @now.program&.fold(@now.position_at(now.frame)) ? "it goes on where it would be by now" : "its end came meanwhile"
        @told = "#{label} was not heard for #{gone_s.round(1)} s, for the audio device was away; #{went}."
        @before = nil
        renew(now, @now.program)
        @ahead.from(soon(SOON_BLOCKS), now)
        true
      end

      def now_label = @now.program&.label || "What played"

      # A program is over when its last block has sounded.
      def over?(frame)
        return false if frame < @now.at_frame + (@before ? 4096 : 0)
        return true unless @now.program

        @now.program.fold(@now.position_at(frame)).nil?
      end

      def over
        [*sources_of(@now.program), *@retired].uniq.each(&:close)
        @retired = []
        disarm
        @now = @before = @fade = @away_s = nil
        false
      end
    end
  end
end
