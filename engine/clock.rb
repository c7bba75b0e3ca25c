# frozen_string_literal: true

module Loomshuttle
  module Engine
    # The one clock of all that sounds: the device frame. It counts the frames that the device
    # gave, those that it lost, and, from one opening of the device to the next, those that
    # would have been: a take that goes on after a fault falls into its place.
    #
    #   clock = Clock.new
    #   clock.open(48_000)          # a device runs
    #   clock.advance(1024)
    #   clock.time_of(clock.frame)  # => Time, by the pair that was noted last
    class Clock
      # Time by two clocks at one frame: monotonic seconds, which nobody sets, and UTC.
      Pair = Struct.new(:frame, :mono_s, :utc_s)

      # session_frame  device frame with which this opening of the device began
      attr_reader :frame, :session, :session_frame, :rate_hz

      # @param mono [#call] seconds that also count while the machine sleeps
      # @param utc [#call] => Time
      def initialize(mono: -> { Process.clock_gettime(Process::CLOCK_BOOTTIME) }, utc: -> { Time.now })
        @frame = 0
        @session = @session_frame = 0
        @mono = mono
        @utc = utc
        note
      end

      # Goes on counting where a take of another engine would be by now, had nothing happened.
      def begin_at(frame, rate_hz)
        @frame, @rate_hz = frame, rate_hz
        note
      end

      # The device was opened: what passed since it was last heard is counted at its rate then.
      def open(rate_hz)
        @frame += [((@mono.call - @pair.mono_s) * @rate_hz).round - (@frame - @pair.frame), 0].max if @rate_hz
        @rate_hz = rate_hz
        @session += 1
        @session_frame = @frame
        note
      end

      def advance(frames) = @frame += frames

      # Keeps both clocks beside the frame; called once a second.
      def note = @pair = Pair.new(@frame, @mono.call, @utc.call.to_f)

      attr_reader :pair
      def mono_s = @mono.call

      # @return [Time] UTC of a device frame
      def time_of(frame) = Time.at(@pair.utc_s + (frame - @pair.frame) / @rate_hz.to_f).utc
    end
  end
end
