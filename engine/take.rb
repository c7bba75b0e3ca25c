# frozen_string_literal: true

module Loomshuttle
  module Engine
    # A running take: its plan, what was asked of it so far, and the places it is written to.
    #
    #   take = Take.begin(plan, folders, ring: -> { ring }, clock: clock)
    #   take.arm(["rec/track/3"], false)   # on the block, each stretch a file
    #   take.stop("stopped by hand")
    #
    # A lost device ends stretches, not the take: it goes on by itself when blocks come again.
    class Take
      # Blocks from now on which an arm change takes hold: late enough to be the same block in
      # every place that the take is written to.
      AHEAD_BLOCKS = 2
      # A bar of rest is no silence that anybody has to know of.
      SILENCE_S = 10
      private_constant :AHEAD_BLOCKS, :SILENCE_S

      attr_reader :plan, :places, :origin, :state

      # @param plan [Capture::TakePlan]
      # @param folders [Array<String>] new ones, the main one first
      # @return [Take] that is being written
      # @raise [SystemCallError] when the main place refuses; nothing is left behind
      def self.begin(plan, folders, ring:, clock:, tell: nil)
        pressed_frame = clock.frame
        # Not back over an opening of the device: what lies before it is another stretch of time.
        earliest = [oldest_frame(ring.call, pressed_frame), clock.session_frame].max
        start_frame = plan.from_frame || [pressed_frame - (plan.preroll_s * plan.sample_rate_hz).round, earliest].max
        take = new(plan, folders, origin: origin(plan, clock, start_frame), ring: ring, clock: clock, pressed_frame: pressed_frame, tell: tell)
        take.places.each { |place| place.begin_journal(pressed_frame) }
        take.start
      end

      def self.oldest_frame(ring, otherwise) = ring.head(ring.oldest + 1)&.first || otherwise

      # @param log [Capture::TakeLog] of a take that another engine began
      # @return [Take] that waits for the device
      def self.resume(log, folders, ring:, clock:, tell: nil)
        date, time = log.started_at.split("T")
        origin = StretchFile::Origin.new(start_frame: log.start_frame, time_reference_samples: log.time_reference_samples, date: date.to_s[0, 10], time: time.to_s[0, 8])
        take = new(log.plan, folders, origin: origin, ring: ring, clock: clock, pressed_frame: log.pressed_frame, log: log, tell: tell)
        take.places.each(&:resume_journal)
        take.start
      end

      # EBU Tech 3285 counts from midnight, where the engineer is.
      def self.origin(plan, clock, start_frame)
        at = clock.time_of(start_frame).getlocal(plan.utc_offset_s)
        midnight = Time.new(at.year, at.month, at.day, 0, 0, 0, plan.utc_offset_s)
        samples = plan.origin_samples || ((at - midnight) * plan.sample_rate_hz).round
        StretchFile::Origin.new(start_frame: start_frame, time_reference_samples: samples, date: at.strftime("%Y-%m-%d"), time: at.strftime("%H:%M:%S"))
      end

      def initialize(plan, folders, origin:, ring:, clock:, pressed_frame:, log: nil, tell: nil)
        @plan, @origin, @ring, @clock, @pressed_frame = plan, origin, ring, clock, pressed_frame
        @timeline = Timeline.new(end_frame: plan.length_frames && origin.start_frame + plan.length_frames)
        @armed = Set.new(log ? log.armed : plan.tracks.select(&:armed).map(&:key))
        @sides = sides
        @lanes = plan.tracks.flat_map(&:lanes)
        @state = log ? "waiting" : "recording"
        @why = log&.breaks&.last&.fetch(:why)
        @broken_s = clock.mono_s if log
        @marks = log ? log.marks.size : 0
        @places = folders.map.with_index do |folder, at|
          Destination.new(folder, plan: plan, timeline: @timeline, origin: origin, ring: ring, clock: clock, log: at.zero? ? log : Journal.read(folder) || log, tell: tell)
        end
      end

      def start = tap { places.each(&:start) }

      # @param keys [Array<String>] of the plan's tracks
      # @raise [BadInput]
      def arm(keys, on)
        unknown = keys - plan.tracks.map(&:key)
        raise BadInput.new(field: "tracks", value: unknown.join(", "), allowed: "tracks of this take") if unknown.any?

        on ? @armed.merge(keys) : @armed.subtract(keys)
        @sides = sides
        @timeline.add(soon, :arm, tracks: keys, on: on)
      end

      # @param at_frame [Integer, nil] device frame within the take; nil for now
      # @return [Hash] id and position of the new mark
      def mark(id, label, at_frame: nil)
        @marks += 1
        now = @clock.frame
        frame = at_frame&.clamp(origin.start_frame, [now, origin.start_frame].max) || now
        @timeline.add(frame, :mark, id: id, label: label)
        {id: id, frame: frame - origin.start_frame}
      end

      def relabel(id, label) = @timeline.add(@clock.frame, :marked, id: id, label: label)
      def unmark(id) = @timeline.add(@clock.frame, :unmarked, id: id)
      def patch_changed(words) = @timeline.add(@clock.frame, :patch, words: words)
      def named(**facts) = @timeline.add(@clock.frame, :named, **facts)

      # The device went away: what is there is written and closed, then the take waits.
      def broken(why)
        return if @state == "waiting"

        @state = "waiting"
        @why = why
        @broken_s = @clock.mono_s
        @timeline.add(@clock.frame, :broken, why: why, at: @clock.time_of(@clock.frame).iso8601(3))
      end

      # Blocks come again.
      def back = @state = "recording"

      # @return [Boolean] whether it waited so long that it is not gone on with
      def given_up? = @state == "waiting" && @clock.mono_s - @broken_s > Capture::TakePlan::CARRY_ON_S

      def stop(reason) = @timeline.stop_at(@clock.frame, reason)

      def stopping? = @timeline.stop_frame.then { |frame| !frame.nil? && @clock.frame >= frame }
      def ended? = places.all?(&:ended?)
      # @return [Boolean] whether all was written and closed in that time
      def join(seconds) = places.all? { |place| place.join(seconds) }
      # Places that still take what comes.
      def good = places.reject(&:fault)
      def frames = [@clock.frame - origin.start_frame, 0].max
      # Frames that lie whole on disk in the place that has most.
      def whole_frames = [places.map(&:whole_frame).max - origin.start_frame, 0].max

      # Twenty times a second: what changes seldom is made when it does.
      #
      # @return [Hash] for whoever asks
      def status
        {take: {uid: plan.uid, number: plan.number, folder: plan.folder, name: plan.name},
         state: stopping? ? "closing" : @state, why: @why, frames: frames, pressed_frames: [@clock.frame - @pressed_frame, 0].max, whole_frames: whole_frames,
         lost_frames: places.map(&:lost_frames).max, gap_frames: places.map(&:gap_frames).max, lost_blocks: lost_blocks, waiting_blocks: places.map(&:waiting_blocks).max,
         tracks: @armed.size, armed: @armed.to_a, tracks_in: @sides, silences_s: silences, lanes: @lanes, marks: @marks, carry_on: plan.carry_on,
         places: places.map.with_index { |place, at| {place: at.zero? ? "main" : "copy", folder: place.folder, fault: place.fault, refused: place.refused, whole_frames: place.whole_frame - origin.start_frame} }}
      end

      private

      # The show's tracks that are recorded now, both sides of a pair.
      def sides = plan.tracks.select { |track| @armed.include?(track.key) }.flat_map { |track| track.sides.empty? ? [track.key] : track.sides.map { |side| side[:track] } }

      # Only what is longer than a rest.
      def silences
        limit = SILENCE_S * plan.sample_rate_hz
        places.first.silences.select { |_, frames| frames >= limit }.transform_values { |frames| (frames / plan.sample_rate_hz.to_f).round }
      end

      # In blocks, however long they are there.
      def lost_blocks
        block_frames = @ring.call&.block_frames or return 0
        (places.map(&:lost_frames).max / block_frames.to_f).ceil
      end

      def soon = @clock.frame + AHEAD_BLOCKS * (@ring.call&.block_frames || 0)
    end
  end
end
