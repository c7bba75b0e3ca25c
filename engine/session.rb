# frozen_string_literal: true

module Loomshuttle
  module Engine
    # One open device: the block loop between it and the rings. It reads, keeps, meters, and
    # hands on what lies ready to be played for exactly this frame; it waits for nothing but
    # the device.
    #
    #   session = Session.new(device, format, clock: clock, rings: rings, meters: meters)
    #   session.cycle   # one block
    class Session
      # How long a read waits before the device is said to be silent, and how long it may be
      # silent before it is given up and opened anew.
      READ_S = 0.4
      SILENT_S = 6.0
      # A pair of both clocks is noted once a second.
      NOTE_S = 1.0
      private_constant :READ_S, :SILENT_S, :NOTE_S

      # blocks   that came; lost_in_frames, lost_out_frames  that the device said it lost
      # late     blocks of playback that were not there in time; longest_ms  the longest that a
      #          block kept the loop
      attr_reader :blocks, :lost_in_frames, :lost_out_frames, :late, :longest_ms

      def initialize(device, format, clock:, rings:, meters:)
        @device, @format, @clock, @rings, @meters = device, format, clock, rings, meters
        @unpack = Unpack.new(format)
        @buffer = String.new(capacity: format.block_bytes_in)
        @silence = ("\0" * format.block_bytes_out).freeze
        @blocks = @lost_in_frames = @lost_out_frames = @late = 0
        @longest_ms = 0.0
        @heard_s = @noted_s = now_s
      end

      # @return [Float, nil] seconds without a block, where that is longer than it may be
      def silent_s = (now_s - @heard_s).then { |seconds| seconds if seconds > READ_S + 2 * @format.block_s }

      # One block, or a while without one.
      #
      # @raise [Device::Lost]
      def cycle
        lost = @device.read(@buffer, READ_S)
        return given_up? unless lost

        @heard_s = now_s
        pass(lost)
        @longest_ms = [@longest_ms, (now_s - @heard_s) * 1000].max
      end

      private

      def given_up?
        raise Device::Lost, "no block for #{SILENT_S.round} s" if now_s - @heard_s > SILENT_S
      end

      def pass(lost)
        count_lost(lost) if lost > 0
        frame = @clock.frame
        levels, planar = @unpack.levels(@buffer), @unpack.planar(@buffer)
        @rings.capture.write(frame, @clock.session, levels, planar)
        # Given back now: as garbage it would make the collector run once a second.
        planar.clear
        @meters.add(@unpack.low, @unpack.high)
        play(played(frame))
        @clock.advance(@format.block_frames)
        note
        @rings.page.write(@clock.frame, @clock.session, @format, Process.clock_gettime(Process::CLOCK_MONOTONIC, :nanosecond))
        @blocks += 1
      end

      # A quarter of a megabyte each time: given back as what was recorded is.
      def play(bytes)
        @lost_out_frames += @device.write(bytes)
        bytes.clear unless bytes.equal?(@silence)
      end

      def count_lost(frames)
        @lost_in_frames += frames
        @clock.advance(frames)
      end

      # A block that is not there for this frame is silence, and never comes later. It is late
      # where one was there before it and one lies there behind it.
      def played(frame)
        bytes = @rings.play.read(frame)
        @late += 1 if bytes.nil? && @sounding && @rings.play.ready?(frame + @format.block_frames)
        @sounding = !bytes.nil?
        bytes || @silence
      end

      def note
        return if @heard_s - @noted_s < NOTE_S

        @noted_s = @heard_s
        @clock.note
      end

      def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
