# frozen_string_literal: true

module Loomshuttle
  module Ear
    # The last minute of every lane in seconds: highest peak, and the power of what was played in it.
    #
    #   minute = Minute.new(lanes: 32, blocks_per_s: 46.9)
    #   minute.add(extremes, square)      # of each block
    #   minute.peak_dbfs, minute.rms_dbfs # => [-8.2, nil, ...], nil where nobody played
    class Minute
      SECONDS = 60
      # Nobody plays in a second that is so far under the loudest, or under any use.
      PAUSE_DB = 20.0
      LOWEST_DBFS = -60.0
      FULL_SCALE = Audio::Scale::FULL_SCALE_S32.to_f
      private_constant :SECONDS, :PAUSE_DB, :LOWEST_DBFS, :FULL_SCALE

      # @param lanes [Integer]
      # @param blocks_per_s [Numeric]
      def initialize(lanes:, blocks_per_s:)
        @lanes = lanes
        @blocks = blocks_per_s.round
        @peaks = Numo::SFloat.zeros(lanes, SECONDS)
        @squares = Numo::SFloat.zeros(lanes, SECONDS)
        @second = 0
        @skipped = Set.new
        begin_second
      end

      # @param extremes [Numo::Int32] [2, lanes], lowest and highest sample of each, full scale 2^31
      # @param square [Numo::SFloat] [lanes], mean square, full scale 1
      # @return [Boolean] whether a second is over
      def add(extremes, square)
        @peak = Numo::SFloat.maximum(@peak, Numo::SFloat.cast(extremes).abs.max(0) / FULL_SCALE)
        @sum += square
        @count += 1
        @count == @blocks && end_second
      end

      # Their preamps were turned: what they played before says nothing any more, nor the second in which it was done.
      #
      # @param lanes [Array<Integer>] from 1
      def forget(lanes)
        lanes.each do |lane|
          next unless lane.between?(1, @lanes)

          @peaks[lane - 1, true] = @squares[lane - 1, true] = 0
          @skipped << lane - 1
        end
      end

      # @return [Array<Float, nil>] one a lane
      def peak_dbfs = @peaks.max(axis: 1).to_a.map { |peak| Audio::Scale.dbfs(peak).then { |dbfs| dbfs.round(1) if dbfs > LOWEST_DBFS } }

      # @return [Array<Float, nil>] of the seconds in which somebody played, as AES17 has rms; one a lane
      def rms_dbfs = Array.new(@lanes) { |lane| rms(@squares[lane, true]) }

      private

      def begin_second
        @peak, @sum, @count = Numo::SFloat.zeros(@lanes), Numo::SFloat.zeros(@lanes), 0
      end

      def end_second
        @skipped.each { |lane| @peak[lane] = @sum[lane] = 0 }
        @skipped.clear
        @peaks[true, @second % SECONDS] = @peak
        @squares[true, @second % SECONDS] = @sum / @count
        @second += 1
        begin_second
        true
      end

      def rms(squares)
        limit = [squares.max * 10**(-PAUSE_DB / 10), Audio::Scale.ratio(LOWEST_DBFS)**2].max
        played = squares[squares >= limit]
        Audio::Scale.rms_dbfs(played.mean).round(1) unless played.empty?
      end
    end
  end
end
