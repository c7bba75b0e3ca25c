# frozen_string_literal: true

module Loomshuttle
  module Engine
    # Writes one take: a file an armed track, on a thread of its own, with headers refreshed
    # each second and fdatasync on yet another thread.
    #
    #   recorder = Recorder.new(format, folder, take)
    #   recorder.push(bytes)    # from the block loop; never waits
    #   recorder.stop("stopped by hand")
    class Recorder
      REFRESH_S = 1.0
      private_constant :REFRESH_S

      attr_reader :take, :folder, :reason

      # @param folder [String] that exists and is empty
      # @param take [Hash] number, sample_rate_hz, time_reference_samples, date, time,
      #   files: [{file, name, track, lane}], string keys
      # @param clock [#call] monotonic seconds
      def initialize(format, folder, take, clock: -> { Process.clock_gettime(Process::CLOCK_MONOTONIC) })
        @format = format
        @folder = folder
        @take = take
        @clock = clock
        @queue = DiskQueue.new(format)
        # Held for one push at most: the block loop never waits on the disk.
        @gate = Mutex.new
        @pushed_frames = 0
        @whole_frames = 0
        @silence = "\0" * (format.block_frames * 3)
        @files = take["files"].map { |spec| [spec["lane"] - 1, TakeFile.new(folder, spec, take)] }
        Journal.write(folder, journal("recording"))
        @writer = Thread.new { write_all }
        @syncer = Thread.new { sync_all }
      end

      # @param bytes [String] one block from the wire; one that comes after the end of the take
      #   is neither counted nor kept
      def push(bytes)
        @gate.synchronize do
          return if @reason

          @queue.push(bytes, @pushed_frames)
          @pushed_frames += @format.block_frames
        end
      end

      # Ends the take: all that was pushed is written, then the files are closed.
      def stop(reason)
        @gate.synchronize do
          return if @reason

          @reason = reason
          @queue.finish
        end
        @writer.join
        @syncer.kill
        Journal.write(@folder, journal("closed"))
      end

      def frames = @pushed_frames
      # @return [Integer] frames that the files hold whole, by their own headers: what would
      #   be there if this process were killed now
      attr_reader :whole_frames

      def lost_blocks = @queue.lost_blocks
      def waiting_blocks = @queue.waiting
      # @return [String, nil] why writing had to end: a full disk, a dead one
      attr_reader :fault

      private

      def write_all
        refreshed_s = @clock.call
        @queue.each do |frame, block|
          guard do
            write_block(frame, block)
            refreshed_s = refresh(refreshed_s)
          end
        end
        # Each for itself: one that cannot be closed must not leave the others open.
        @files.each { |_, file| guard(always: true) { file.close } }
      end

      # What was written before a fault stays; the runner sees the fault and ends the take.
      # Blocks that come after it are drained, so that the block loop never feels it.
      def guard(always: false)
        yield if always || @fault.nil?
      rescue SystemCallError => e
        @fault ||= e.message
      end

      def write_block(frame, block)
        @files.each do |lane, file|
          file.write(@silence) while file.frames < frame
          file.write(block[lane, true, true].to_binary)
        end
      end

      def refresh(since_s)
        now_s = @clock.call
        return since_s if now_s - since_s < REFRESH_S

        @files.each { |_, file| file.refresh }
        @whole_frames = @files.map { |_, file| file.frames }.min
        now_s
      end

      def sync_all
        loop do
          sleep REFRESH_S
          @files.each { |_, file| file.sync }
        end
      rescue IOError, SystemCallError
        nil
      end

      def journal(state) = @take.merge("state" => state, "frames" => @pushed_frames, "lost_blocks" => lost_blocks, "reason" => @reason)
    end
  end
end
