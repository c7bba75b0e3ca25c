# frozen_string_literal: true

module Loomshuttle
  module Engine
    # Plays sources into lanes. A thread of its own renders at least two seconds ahead; the
    # block loop only takes blocks that are ready.
    class Player
      AHEAD_S = 2.5
      private_constant :AHEAD_S

      attr_reader :label, :underruns, :length_frames, :position_frames, :peak_dbfs

      # @param sources [Array<#render, #lane, #frames>]
      # @param repeat [Boolean] go round from the start at the end
      def initialize(format, sources, label:, from_frame: 0, repeat: false)
        @format = format
        @sources = sources
        @label = label
        @repeat = repeat
        @length_frames = sources.map(&:frames).max || 0
        @position_frames = from_frame
        @underruns = 0
        @peak_dbfs = []
        @ready = Thread::SizedQueue.new((AHEAD_S / format.block_s).ceil)
        @reader = Thread.new { render_all(from_frame) }
      end

      # @return [String, nil] the next block for the device; nil when there is none ready
      def take
        position, bytes, peak_dbfs = @ready.pop(true)
        @over = true if position.nil?
        @position_frames, @peak_dbfs = position, peak_dbfs if position
        bytes
      rescue ThreadError
        @underruns += 1 if @started
        nil
      ensure
        @started = true
      end

      def over? = @over || false
      def looping? = @repeat

      def stop
        @reader.kill
        @reader.join
        @sources.each(&:close)
      end

      private

      def render_all(frame)
        loop do
          frame = 0 if frame >= @length_frames && @repeat
          break if frame >= @length_frames

          @ready << [frame, *block(frame)]
          frame += @format.block_frames
        end
        @ready << [nil, nil]
      rescue => e
        # A file that can no longer be read ends the playing, never the block loop.
        warn "player: #{e.message}"
        @ready << [nil, nil]
      end

      # Lanes that two sources share add up, within full scale. The level of what will be
      # played is measured here, off the block loop.
      #
      # @return [Array] bytes for the device, peak of each lane in dBFS
      def block(frame)
        lanes = Numo::Int64.zeros(@format.lanes_out, @format.block_frames)
        @sources.each do |source|
          part = source.render(frame, @format.block_frames)
          lanes[source.lane, 0...part.size] += part if part.size > 0
        end
        mixed = lanes.clip(-Audio::Scale::FULL_SCALE_S32, Audio::Scale::MAX_S32)
        [Numo::Int32.cast(mixed).transpose.dup.to_binary, mixed.abs.max(1).to_a.map { |peak| Audio::Scale.dbfs(peak.to_f / Audio::Scale::FULL_SCALE_S32).round(1) }]
      end
    end
  end
end
