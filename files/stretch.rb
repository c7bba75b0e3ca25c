# frozen_string_literal: true

module Loomshuttle
  module Files
    # Sound at another tempo, its pitch kept, by ffmpeg's rubberband: to the frame as long as it should be, and in time.
    #
    #   stretch = Stretch.new(80, rate_hz: 48_000, folder: "/tmp") { |*command| system(*command, exception: true) }
    #   stretch.write("organ.wav", "slow.wav", frames: 1_200_000)
    #
    # What the filter gives comes early or late by some milliseconds, the more so the further it stretches; so much is
    # measured first, with clicks of our own, and taken off.
    class Stretch
      # Both sides together, or they drift apart; phases by themselves, or clicks smear by as much as they are off.
      FILTER = "transients=crisp:phase=independent:channels=together"
      CLICK_EVERY_S = 0.6
      CLICKS = 10
      CLICK_S = 0.005
      # Of full scale, from where a click has begun.
      HEARD = 0.1
      private_constant :FILTER, :CLICK_EVERY_S, :CLICKS, :CLICK_S, :HEARD

      # @param percent [Integer] of the tempo
      # @param folder [String] where clicks may lie for a moment
      # @yield [Array<String>] a command that is to be run, and raises where it fails
      def initialize(percent, rate_hz:, folder:, &run)
        @percent, @rate_hz, @folder, @run = percent, rate_hz, folder, run
        @late_frames = measured
      end

      # @param frames [Integer] of the target
      def write(source, target, frames:)
        # What is early is put off, of what is late the beginning goes.
        shift = @late_frames.negative? ? "adelay=#{-@late_frames}S:all=1" : "atrim=start_sample=#{@late_frames}"
        convert(source, target, "#{shift},apad,atrim=end_sample=#{frames}")
      end

      private

      def convert(source, target, *filters)
        filter = ["rubberband=tempo=#{@percent / 100.0}:#{FILTER}", *filters].join(",")
        @run.call("ffmpeg", "-nostdin", "-v", "error", "-y", "-i", source, "-af", filter, "-ar", @rate_hz.to_s, "-c:a", "pcm_f32le", "-rf64", "auto", "-f", "wav", target)
      end

      # @return [Integer] frames by which clicks come late, early ones below 0: the middle of all
      def measured
        clicks, stretched = %w[clicks stretched].map { |name| File.join(@folder, ".#{name}-#{@percent}.wav") }
        WavWriter.write(clicks, rate_hz: @rate_hz, names: ["clicks"], frames: (CLICKS * CLICK_EVERY_S * @rate_hz).round) { |from, count| sound(from, count) }
        convert(clicks, stretched)
        late(stretched)
      ensure
        [clicks, stretched].each { |path| File.delete(path) if File.exist?(path) }
      end

      def sound(from, count)
        frame = Numo::DFloat.new(1, count).seq(from) % (CLICK_EVERY_S * @rate_hz)
        Numo::SFloat.cast(Numo::NMath.sin(frame * 0.6) * 0.6 * Numo::DFloat.cast(frame < CLICK_S * @rate_hz))
      end

      def late(path)
        source = WavSource.new(path)
        loud = source.read(0, source.frames)[0, true].abs.gt(HEARD).where.to_a
        every = CLICK_EVERY_S * @rate_hz * 100 / @percent
        onsets = loud.slice_when { |one, other| other - one > every / 2 }.map(&:first)
        # The filter is still beginning while the first one sounds.
        found = onsets.drop(1).map { |at| at - (at / every).round * every }.sort
        found.empty? ? 0 : found[found.size / 2].round
      ensure
        source&.close
      end
    end
  end
end
