# frozen_string_literal: true

module Loomshuttle
  module Engine
    # Begins, watches and ends takes, one at a time: what stands between those who ask and the
    # take that runs. All of it happens beside the block loop.
    class Recorder
      # How long somebody who stops a take waits for its files to be closed.
      CLOSE_S = 8
      # A take is not worth beginning where it could not run for so long.
      WORTH_S = 10
      WATCH_S = 1.0
      private_constant :CLOSE_S, :WORTH_S, :WATCH_S

      attr_reader :take, :last_take, :recovered

      # @param device [#call] => [state, format]
      def initialize(takes_folder, places:, rings:, clock:, faults:, device:)
        @takes_folder, @places, @rings, @clock, @faults, @device = takes_folder, places, rings, clock, faults, device
        @lock = Mutex.new
        @recovered = []
        @watched_s = 0.0
      end

      # Finishes what a crash left, and goes on with the youngest take where it may.
      def recover
        FileUtils.mkdir_p(@takes_folder)
        found = Recovery.new(@takes_folder, now_utc_s: @clock.pair.utc_s)
        found.told.each { |one| @faults.add("journal", "#{File.basename(File.dirname(one.folder))}/#{File.basename(one.folder)}: #{one.words}") }
        @recovered = [*found.finished, found.youngest&.folder].compact.map { |folder| folder.delete_prefix("#{@takes_folder}/") }
        resume(found.youngest) if found.youngest
      rescue SystemCallError => e
        @faults.add("recovery", "the takes could not be looked at: #{e.message}")
      end

      # @param plan [Capture::TakePlan] its folder is chosen here
      # @return [Hash] uid, number, folder of what was begun
      # @raise [BadInput] whatever keeps it from being begun; nothing is left behind then
      def record(plan)
        @lock.synchronize do
          format = refuse_busy
          fault = plan.fault(format.lanes_in) and raise fault
          refuse_rate(plan, format)
          begin_take(plan)
        end
      end

      # @return [Hash, nil] what was stopped; nil when nothing ran
      def stop(reason = "stopped by hand")
        take = @take or return
        take.stop(reason)
        conclude(take) if take.join(CLOSE_S)
        (last_take && last_take[:uid] == take.plan.uid) ? last_take : {uid: take.plan.uid, number: take.plan.number, closing: true}
      end

      # @return [Take]
      # @raise [BadInput] when none runs
      def running = @take || raise(BadInput.new(field: "capture", value: nil, allowed: "a take that is running"))

      def device_lost(words)
        take = @take or return
        return take.broken("the device went away (#{words})") if take.plan.carry_on

        take.stop("the device went away (#{words}); the files are whole up to there")
      end

      # Goes on with a take that waits, where the device is still one that it can go on with.
      def device_back(format)
        take = @take or return
        return take.back if take.plan.sample_rate_hz == format.rate_hz && take.plan.fault(format.lanes_in).nil?

        take.stop("the device came back with #{format.lanes_in} lanes at #{format.rate_hz} Hz; the files are whole up to where it went away")
      end

      # Takes that end by themselves, disks that fill, places that refuse.
      def tend(device_state)
        take = @take or return
        conclude(take) if take.ended?
        take.stop("it waited for an hour") if take.given_up?
        tell_faults(take)
        take.stop(take.places.map(&:fault).compact.first || "no place is left to write to") if take.places.all? { |place| place.fault || place.early? } && !take.stopping?
        watch_disks(take) if device_state && @clock.mono_s - @watched_s > WATCH_S
      end

      private

      def refuse_busy
        state, format = @device.call
        unless state == "running"
          raise BadInput.new(field: "device", value: state, allowed: "a device that is running; this one does not answer")
        end
        raise BadInput.new(field: "capture", value: "take #{@take.plan.number}", allowed: "stop the running take first") if @take

        format
      end

      def refuse_rate(plan, format)
        return if plan.sample_rate_hz == format.rate_hz

        raise BadInput.new(field: "sample_rate_hz", value: plan.sample_rate_hz, allowed: "the device's #{format.rate_hz} Hz")
      end

      def begin_take(plan)
        roots = [@takes_folder, *(@places.copies(plan.copy) if plan.copy)]
        roots.each { |root| refuse_full(root, plan) }
        plan = next_free(plan, roots)
        folders = roots.map { |root| File.join(root, plan.folder) }
        made = folders.each { |folder| FileUtils.mkdir_p(File.dirname(folder)) && Dir.mkdir(folder) }
        @told = Set.new
        @take = Take.begin(plan, folders, ring: -> { @rings.capture }, clock: @clock, tell: @faults)
        {uid: plan.uid, number: plan.number, folder: plan.folder, start_frame: @take.origin.start_frame}
      rescue SystemCallError => e
        # Nothing is left that would stand in the way of the next try.
        (made || folders || []).each { |folder| FileUtils.rm_rf(folder) if File.directory?(folder) }
        raise BadInput.new(field: "disk", value: plan.folder, allowed: "a disk that takes the files; this one says: #{e.message}")
      end

      # Numbers that are taken on any of the disks are passed over.
      def next_free(plan, roots)
        number = plan.number
        number += 1 while roots.any? { |root| File.exist?(File.join(root, folder_of(plan, number))) }
        name = (plan.name == "Take #{plan.number}") ? "Take #{number}" : plan.name
        plan.with(number: number, folder: folder_of(plan, number), name: name)
      end

      def folder_of(plan, number) = Capture::FileName.take(plan.show, number)

      def refuse_full(root, plan)
        free = Runtime::Disk.free_bytes(root) or return
        rate = Capture::DiskBudget.rate_bytes_per_s(plan.tracks.select(&:armed).sum { |track| track.lanes.size }, plan.sample_rate_hz, bytes: plan.sample_bytes)
        return if free - plan.margin_bytes >= rate * WORTH_S

        raise BadInput.new(field: "disk", value: "#{free / 1_000_000} MB free", allowed: "room for at least #{WORTH_S} s over the margin of #{plan.margin_bytes / 1_000_000} MB")
      end

      def resume(found)
        log = found.log
        @clock.begin_at(log.frame_now(utc_s: @clock.pair.utc_s, mono_s: @clock.mono_s, boot: Destination::BOOT), log.plan.sample_rate_hz)
        folders = [found.folder, *copy_of(log.plan)]
        @told = Set.new
        @take = Take.resume(log, folders, ring: -> { @rings.capture }, clock: @clock, tell: @faults)
        @faults.add("resumed", "take #{log.plan.number} was broken off when the engine ended; it goes on as soon as the device is there")
      rescue SystemCallError, BadInput => e
        @faults.add("take", "take #{log.plan.number} cannot go on: #{e.message}")
      end

      # The second place of a take that goes on, where it is still there.
      def copy_of(plan)
        return [] unless plan.copy

        folder = File.join(@places.copies(plan.copy), plan.folder)
        File.directory?(folder) ? [folder] : []
      rescue SystemCallError, BadInput => e
        @faults.add("copy", "the second place is not there: #{e.message}")
        []
      end

      def tell_faults(take)
        take.places.each.with_index do |place, at|
          which = at.zero? ? "the main place" : "the second place"
          place.refused.each { |track, words| tell_track(take, which, track, words) }
          next if place.fault.nil? || !@told.add?(at)

          @faults.add("disk", "take #{take.plan.number}: #{which} #{place.folder} refused: #{place.fault}")
        end
      end

      def tell_track(take, which, key, words)
        return unless @told.add?([which, key, words])

        name = take.plan.tracks.find { |track| track.key == key }&.name
        @faults.add("disk", "take #{take.plan.number}: #{which} takes no more of track #{name}: #{words}; it is not recorded there any more")
      end

      # The margin is left free, so that everything can be closed whole.
      def watch_disks(take)
        @watched_s = @clock.mono_s
        take.good.reject(&:early?).each do |place|
          free = Runtime::Disk.free_bytes(place.folder)
          next if free.nil? || free > take.plan.margin_bytes

          full(take, place)
        end
      end

      def full(take, place)
        words = "the disk is full up to the margin of #{take.plan.margin_bytes / 1_000_000} MB that is kept free"
        return take.stop(words) if take.good.reject(&:early?).size == 1

        place.end_early(words)
        @faults.add("disk", "take #{take.plan.number}: #{place.folder}: #{words}; the other place goes on")
      end

      def conclude(take)
        @lock.synchronize do
          return unless @take.equal?(take)

          tell_faults(take)
          @last_take = last_of(take)
          @take = nil
        end
      end

      def last_of(take)
        log = Journal.read(take.places.first.folder)
        {uid: take.plan.uid, number: take.plan.number, folder: take.plan.folder, frames: log&.frames || 0, lost_blocks: take.status[:lost_blocks],
         lost_frames: log&.lost_frames || 0, reason: log&.reason || take.places.first.fault}
      end
    end
  end
end
