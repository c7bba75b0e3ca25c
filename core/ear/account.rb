# frozen_string_literal: true

module Loomshuttle
  module Ear
    # What a whole recording of one lane holds: floor, first sound, hum, silence. It is read once from end to
    # end; afterwards only the few places that matter are read again.
    #
    #   account = Account.new(rate_hz: 48_000)
    #   account.add(samples)                  # Numo::SFloat [frames], whole blocks but for the last piece
    #   account.report { |from, count| ... }  # => {floor_dbfs: -84.1, silence: nil, hum: nil, onset_frame: 59_220}
    class Account
      BLOCK_FRAMES = 1024
      # The tenth of all blocks that is quietest is what nobody played in.
      QUIETEST = 0.1
      # So much over its floor somebody plays; never under this (as Arrivals have it).
      RISE_DB = Arrivals::RISE_DB
      LOWEST_DBFS = Arrivals::LOWEST_DBFS
      HUM_S = 1.0
      private_constant :QUIETEST, :HUM_S

      def initialize(rate_hz:)
        @rate_hz = rate_hz
        @squares = []
        @peak = 0.0
      end

      # @param samples [Numo::SFloat] [frames], full scale 1
      def add(samples)
        return if samples.empty?

        @peak = [@peak, *samples.minmax.map(&:abs)].max
        whole = samples.size / BLOCK_FRAMES
        @squares << (samples[0...(whole * BLOCK_FRAMES)].reshape(whole, BLOCK_FRAMES)**2).mean(1) if whole.positive?
        rest = samples[(whole * BLOCK_FRAMES)..] if samples.size > whole * BLOCK_FRAMES
        @squares << Numo::SFloat[(rest**2).mean] if rest
      end

      # @return [Numo::SFloat] [blocks], mean square of each
      def squares = @whole ||= @squares.empty? ? Numo::SFloat.zeros(0) : Numo::SFloat.hstack(@squares)

      # @yield [Integer, Integer] first frame and how many => Numo::SFloat
      # @return [Hash] floor_dbfs; silence: "digital", "noise" or nil; hum: Hum or nil; onset_frame: Integer or nil
      def report(&read)
        return {floor_dbfs: Audio::Scale::FLOOR_DBFS, silence: "digital", hum: nil, onset_frame: nil} if @peak.zero?

        onset = onset_frame(&read)
        {floor_dbfs: Audio::Scale.rms_dbfs(floor).round(1), silence: onset ? nil : "noise", hum: hum(&read), onset_frame: onset}
      end

      private

      # @return [Float] mean square
      def floor = @floor ||= squares.sort[(squares.size * QUIETEST).floor].to_f

      def onset_frame
        limit = [floor * 10**(RISE_DB / 10), Audio::Scale.ratio(LOWEST_DBFS)**2].max
        # Somebody plays from the first block to the last: then there is no floor to rise over.
        limit = Audio::Scale.ratio(LOWEST_DBFS)**2 if squares.max < limit && squares.max > Audio::Scale.ratio(LOWEST_DBFS)**2 * 10**(RISE_DB / 10)
        block = (squares > limit).where.to_a.first or return nil
        samples = yield(block * BLOCK_FRAMES, BLOCK_FRAMES)
        block * BLOCK_FRAMES + (samples.abs >= Math.sqrt(limit)).where.to_a.first.to_i
      end

      # In the second in which it is quietest without being nothing at all. Where somebody plays all the while a note
      # near the mains is taken for no hum: it must be alone then.
      def hum
        span = (HUM_S * @rate_hz / BLOCK_FRAMES).ceil
        return nil if squares.size < span

        sums = Numo::DFloat.cast(squares).cumsum
        powers = (0..(squares.size - span)).map { |at| sums[at + span - 1] - (at.zero? ? 0 : sums[at - 1]) }
        silent = squares.eq(0).to_a
        at = powers.each_index.reject { |index| silent[index, span].include?(1) }.min_by { |index| powers[index] } or return nil
        samples = yield(at * BLOCK_FRAMES, span * BLOCK_FRAMES)
        pause?(powers[at] / span, powers.max / span) ? Hum.of(samples, rate_hz: @rate_hz) : Hum.alone(samples, rate_hz: @rate_hz)
      end

      def pause?(quietest, loudest) = quietest < [loudest * 10**(-RISE_DB / 10), Audio::Scale.ratio(LOWEST_DBFS)**2].max
    end
  end
end
