# frozen_string_literal: true

module Loomshuttle
  module Engine
    # One place on disk that a take is written to: a reader of the capture ring, its files and
    # its journal, on threads of its own. A second place is a second one of these; each has its
    # own fault, and none knows of the other.
    #
    #   place = Destination.new(folder, plan: plan, timeline: timeline, origin: origin, ring: -> { ring }, clock: clock)
    #   place.start
    #   place.join      # after the timeline's end
    class Destination
      REFRESH_S = 1.0
      IDLE_S = 0.04
      # Blocks wait no longer than this to be written together.
      WAIT_S = 0.3
      # Frames that never came are filled with silence up to here; a longer hole is no silence.
      FILL_S = 10
      private_constant :REFRESH_S, :IDLE_S, :WAIT_S, :FILL_S

      # gap_frames  between stretches, while there was no device or no engine
      # silences    see OpenStretches; those of the last second
      attr_reader :folder, :fault, :gap_frames, :whole_frame, :position, :lost_frames, :silences

      # @param folder [String] that exists
      # @param ring [#call] => the ring of now, or nil
      # @param log [Capture::TakeLog, nil] of a take that goes on
      # @param tell [#call, nil] is given (name, error) of what a thread did not expect
      def initialize(folder, plan:, timeline:, origin:, ring:, clock:, log: nil, tell: nil)
        @folder, @plan, @timeline, @origin, @clock, @tell = folder, plan, timeline, origin, clock, tell
        @ring = ring
        @position = @whole_frame = log ? log.end_frame : origin.start_frame
        @tracks = plan.tracks.to_h { |track| [track.key, track] }
        @armed = Set.new(log ? log.armed : plan.tracks.select(&:armed).map(&:key))
        @next_event = 0
        @lost_frames = log ? log.lost_frames : 0
        @broken = log ? true : false
        @names = {}
        @gap_frames = log ? log.breaks.sum { |one| one[:gap_frames].to_i } : 0
        @refreshed_s = @wrote_s = 0.0
        @silences = {}
        @journal = Journal.new(folder)
        @open = OpenStretches.new(folder, plan, origin: origin, journal: @journal, log: log) { |words| fail_with(words) }
      end

      # Says in the journal what take it is. Before `start`, so that whoever asked is told.
      #
      # @raise [SystemCallError]
      def begin_journal(pressed_frame)
        @journal.add("begun", version: 2, plan: @plan.to_data, start_frame: @origin.start_frame, pressed_frame: pressed_frame,
          started_at: @clock.time_of(@origin.start_frame).iso8601(3), time_reference_samples: @origin.time_reference_samples,
          date: @origin.date, time: @origin.time, **pair)
        @overview = Overview.new(@folder, @plan)
      end

      # Goes on with what another engine began.
      def resume_journal = @overview = Overview.new(@folder, @plan)

      def start
        @writer = Runtime::Loop.start("writer", tell: method(:unexpected)) { turn }
        @syncer = Runtime::Loop.start("sync", pause_s: REFRESH_S, tell: method(:unexpected)) { sync }
        self
      end

      # @return [Boolean] whether all is written and closed
      def ended? = @ended || false
      def join(seconds) = @writer&.join(seconds)
      def waiting_blocks = @reader ? [@reader.waiting, 0].max : 0
      # See OpenStretches.
      def refused = @open.refused

      # Ends this copy, not the take: its disk refuses.
      def fail_with(words) = @fault ||= words

      # Ends it whole and in good order, before its disk refuses.
      def end_early(words) = @early ||= words
      def early? = !@early.nil?

      private

      def turn
        return finish if @fault

        @open.tend(@position)
        apply_events
        return finish if over?

        blocks = next_blocks
        return rest if blocks.empty?

        write(blocks)
        refresh
      rescue SystemCallError, IOError => e
        fail_with(e.message)
      end

      def over? = @early || (@timeline.stop_frame && @position >= @timeline.stop_frame)

      # What came, several blocks at a time, up to where something else happens. The ring may be
      # another one, or none, after the device was lost.
      #
      # @return [Array<Rings::CaptureRing::Block>]
      def next_blocks
        ring = @ring.call or return []
        unless @reading.equal?(ring)
          @reading = ring
          @reader = ring.reader(@position)
          @kept = nil
        end
        return [] if @kept.nil? && @reader.waiting < Batch::BLOCKS && !due?

        gather(limit_frame)
      end

      # Fewer blocks than a batch are only written when it is time, or something waits for them.
      def due? = limit_frame || @clock.mono_s - @wrote_s > WAIT_S

      # @return [Integer, nil] device frame up to which nothing else happens
      def limit_frame = [@timeline.at(@next_event)&.frame, @timeline.stop_frame].compact.min

      def gather(limit)
        blocks = []
        while blocks.size < Batch::BLOCKS && (block = @kept || @reader.read)
          @kept = nil
          if blocks.any? && (block.frame != blocks.last.end_frame || block.session != blocks.last.session || (limit && block.frame >= limit))
            @kept = block
            break
          end
          blocks << block unless block.end_frame <= @position
        end
        blocks
      end

      def rest
        refresh
        sleep IDLE_S
      end

      def write(blocks)
        first = blocks.first
        hole(first) if first.frame > @position || first.session != @session
        skip = [@position - first.frame, 0].max
        count = blocks.last.end_frame - first.frame - skip
        count = [count, @timeline.stop_frame - @position].min if @timeline.stop_frame
        @wrote_s = @clock.mono_s
        return if count <= 0

        batch = Batch.new(blocks, skip: skip, count: count)
        @open.each(@position) { |file| file.add(batch) }
        @overview.add(batch)
        @position += count
        batch.drop
      end

      # Between what was written and this block something never came.
      def hole(block)
        missing = block.frame - @position
        return come_back(block, missing) if @broken || @session.nil? || block.session != @session
        return apart(block, missing) if missing > FILL_S * @plan.sample_rate_hz

        lose(missing, (@reader.missed_blocks > @missed.to_i) ? "the disk was too slow" : "the device lost them")
        @missed = @reader.missed_blocks
        @open.each(@position) { |file| file.add_silence(missing) }
        @position = block.frame
      end

      def come_back(block, missing)
        first = @session.nil? && !@broken
        @session = block.session
        return open_all if first && missing <= 0

        @open.close_all
        back_after([missing, 0].max, block.frame) if @broken
        @position = [block.frame, @position].max
        open_all
      end

      def back_after(gap_frames, frame)
        @journal.add("back", frame: frame, gap_frames: gap_frames)
        @gap_frames += gap_frames
        @broken = false
      end

      def apart(block, missing)
        lose(missing, "the disk was too slow for longer than the memory holds")
        @open.close_all
        @position = block.frame
        open_all
      end

      def lose(frames, why)
        @lost_frames += frames
        @journal.add("lost", frame: @position, frames: frames, why: why)
      end

      def apply_events
        while (event = @timeline.at(@next_event)) && event.frame <= @position
          @next_event += 1
          apply(event)
        end
      end

      def apply(event)
        case event.kind
        when :arm then arm(event.facts.fetch(:tracks), event.facts.fetch(:on))
        when :broken then break_off(event)
        when :named then rename(event.facts)
        else @journal.add(event.kind.to_s, frame: event.frame, **event.facts)
        end
      end

      def arm(keys, on)
        keys.each do |key|
          track = @tracks[key] or next
          on ? @armed << key : @armed.delete(key)
          next if @broken || @session.nil?

          on ? @open.begin(track, @position) : @open.close(key, disarmed: true)
        end
      end

      def break_off(event)
        @open.close_all
        @broken = true
        @journal.add("broken", frame: event.frame, **event.facts)
        @journal.sync
      end

      # Files are renamed when the take is over.
      def rename(facts)
        return @names[facts[:track]] = facts[:name] if facts[:track]

        @journal.add("named", **facts)
      end

      def open_all = @armed.each { |key| @open.begin(@tracks[key], @position) if @tracks[key] }

      # Headers that fit, and a word in the journal up to where.
      def refresh
        now_s = @clock.mono_s
        return if now_s - @refreshed_s < REFRESH_S

        @refreshed_s = now_s
        @open.each(@position, &:refresh)
        @silences = @open.silences
        return if @broken

        @whole_frame = @position
        @journal.add("whole", frame: @position, **pair)
      end

      def pair = @clock.pair.then { |pair| {utc_s: pair.utc_s.round(6), mono_s: pair.mono_s.round(6), clock_frame: pair.frame, boot: BOOT} }

      # Which start of the machine it is: monotonic seconds of another one say nothing.
      BOOT = begin
        File.read("/proc/sys/kernel/random/boot_id")[0, 8]
      rescue SystemCallError
        "unknown"
      end
      public_constant :BOOT

      # What a dying disk says to sync counts as much as what it says to a write.
      def sync
        return Runtime::Loop::DONE if @ended

        @journal.sync
        @open.sync
        nil
      rescue SystemCallError => e
        fail_with("#{e.message}, when it was asked to keep what it has")
      rescue IOError
        # A file that was closed meanwhile was synced by that.
        nil
      end

      # All that was written is closed, each file for itself; the journal says why it is over.
      def finish
        @fault ? give_up : @open.close_all
        apply_rest
        @whole_frame = @position
        @overview&.close
        close_journal
        @ended = true
        Runtime::Loop::DONE
      rescue SystemCallError, IOError => e
        fail_with(e.message)
        give_up
        @ended = true
        Runtime::Loop::DONE
      end

      def give_up
        @open.give_up
        @journal.add("fault", frame: @position, words: @fault)
      rescue SystemCallError, IOError
        nil
      end

      # Marks and names that were asked for after the last block still belong to the take.
      def apply_rest
        while (event = @timeline.at(@next_event))
          @next_event += 1
          apply(event) unless event.kind == :arm
        end
      end

      def close_journal
        reason = @fault || @early || @timeline.reason
        @journal.add("closed", frame: @position, reason: reason, **pair)
        @journal.close
        @names.each { |key, name| Renaming.track(@folder, key, name) }
      end

      def unexpected(name, error)
        fail_with("#{name}: #{error.message}")
        @tell&.call(name, error)
      end
    end
  end
end
