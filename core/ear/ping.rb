# frozen_string_literal: true

require "numo/pocketfft"

module Loomshuttle
  module Ear
    # Which lanes of a return ping arrive at an input, how loud, with which polarity, how late and how much
    # coloured: by circular correlation of what came back with what was sent, once in each order of the lanes.
    #
    #   Ping.heard(forward, backward)   # => [Ping(lane: 7, gain: -0.98, latency_frames: 2113, coloured: false)]
    #
    # lane            1 to Sequence::LANES
    # gain            of what came back over what was sent; below 0 with the other polarity
    # latency_frames  up to half a sequence
    # coloured        whether an equaliser, a gate or a room stands in the way: less than half of the power lies in its peak
    Ping = Value.of(:lane, :gain, :latency_frames, :coloured) do
      def inverted = gain.negative?
      def level_db = Audio::Scale.dbfs(gain.abs)
      # As plain data, short: an input may hear many.
      def to_a = [lane, gain.round(4), latency_frames, coloured]
    end

    class Ping
      # Over the noise of all other shifts so much is no accident: of 4 million values not one.
      OVER_NOISE = 8.0
      # And never so far under what was sent.
      LOWEST = Audio::Scale.ratio(-50)
      # What belongs to one peak, on either side, and the peak itself where it falls between two frames.
      TAIL_FRAMES = 400
      PEAK_FRAMES = 2
      # Of both orders the same peak has the same height.
      SAME_HEIGHT = 0.15
      # A response may be longer than the peak: what is so much lower within its tail belongs to it.
      OF_PEAK = 0.3
      private_constant :OVER_NOISE, :LOWEST, :TAIL_FRAMES, :PEAK_FRAMES, :SAME_HEIGHT, :OF_PEAK

      # A peak of the correlation: where it lies, how high, and the share of its power that is in the peak.
      Peak = Value.of(:at, :height, :share)
      private_constant :Peak

      # The peaks of one turn, and the gain under which there are none to be seen.
      Turn = Value.of(:peaks, :floor)

      # What one input heard.
      #
      # pings  [Ping] by lane
      # floor  gain under which nothing could be told from the noise there, as from a microphone that is open
      Listened = Value.of(:pings, :floor)

      class << self
        # @param data [Array] as Ping#to_a
        def from_a(data) = new(lane: data[0], gain: data[1], latency_frames: data[2], coloured: data[3])

        # @param forward, backward [Numo::SFloat] [Sequence::LENGTH] what came in during one whole turn of each order, both
        #   begun as many whole turns after their first frame
        # @param sent [Float] amplitude of each lane's sequence, 1 at full scale
        # @param lanes [Integer] that were sent
        # @return [Array<Ping>] by lane; of one lane that comes by several ways its strongest, coloured by the others
        def heard(forward, backward, sent: 1.0, lanes: Sequence::LANES) = listen(forward, backward, sent: sent, lanes: lanes).pings

        # @return [Listened]
        def listen(forward, backward, sent: 1.0, lanes: Sequence::LANES) = both(turn(forward, sent: sent), turn(backward, sent: sent), lanes: lanes)

        # What one turn of one order says by itself: the slow part, done while the other still sounds.
        #
        # @return [Turn]
        def turn(samples, sent: 1.0)
          found = response(samples) / sent
          floor = limit(found)
          Turn.new(peaks: peaks(found, floor), floor: floor)
        end

        # @param forward, backward [Turn]
        # @return [Listened]
        def both(forward, backward, lanes: Sequence::LANES)
          pings = settled(forward.peaks, backward.peaks, lanes).group_by(&:lane).map { |_, ways| ways.max_by { |way| way.gain.abs } }.sort_by(&:lane)
          Listened.new(pings: pings, floor: [forward.floor, backward.floor].max)
        end

        # Whether any lane's sequence is there at all, told from a part of one turn of the first order: enough to
        # know whether a desk listens to the recorder, in a second. Which lane it is takes both orders.
        #
        # @param samples [Numo::SFloat] [any], fewer than Sequence::LENGTH
        # @param from [Integer] frames after the sequence's first at which they begin
        # @return [Hash] gain of the strongest, 0.0 for none, and the floor
        def present(samples, from:, sent: 1.0)
          whole = Numo::SFloat.zeros(Sequence::LENGTH)
          whole[from...(from + samples.size)] = samples
          part = response(whole) * (Sequence::LENGTH / samples.size.to_f / sent)
          floor, highest = limit(part), part.abs.max
          {gain: (highest > floor) ? highest : 0.0, floor: floor}
        end

        # @return [Numo::DFloat] [Sequence::LENGTH], what a single impulse would have come back as, all lanes after each other
        def response(samples)
          spectrum = Numo::Pocketfft.rfft(Numo::DFloat.cast(samples)) * reference
          back(spectrum) / Sequence::LENGTH
        end

        private

        def reference = @reference ||= Numo::Pocketfft.rfft(Numo::DFloat.cast(Sequence.samples)).conj

        # The length is odd: it is said by transforming all of it, not by its half.
        def back(half)
          whole = Numo::DComplex.zeros(Sequence::LENGTH)
          whole[0...half.size] = half
          whole[half.size..] = half[1..].conj.reverse
          Numo::Pocketfft.ifft(whole).real
        end

        # The middle of all shifts is noise: 0.6745 of its deviation (that of a normal distribution).
        def limit(response) = [response.abs.median / 0.6745 * OVER_NOISE, LOWEST].max

        # The highest first; what lies in the tail of a higher one is its own.
        def peaks(response, limit)
          height = response.abs
          found = []
          (height > limit).where.to_a.sort_by { |at| -height[at] }.each do |at|
            found << peak(response, at) unless found.any? { |one| away(one.at, at) <= TAIL_FRAMES && height[at] < one.height.abs * OF_PEAK || away(one.at, at) <= PEAK_FRAMES }
          end
          found
        end

        def away(one, other) = ((one - other) % Sequence::LENGTH).then { |frames| [frames, Sequence::LENGTH - frames].min }

        def peak(response, at)
          near = (-TAIL_FRAMES..TAIL_FRAMES).map { |by| response[(at + by) % Sequence::LENGTH]**2 }
          middle = near[TAIL_FRAMES - PEAK_FRAMES..TAIL_FRAMES + PEAK_FRAMES].sum
          noise = near.sort[near.size / 4] / 0.1015
          whole = near.sum - noise * near.size
          Peak.new(at: at, height: response[at], share: (whole > 0) ? middle / [whole, middle].max : 1.0)
        end

        # Lane k lies at latency + shift(k): forward it is (k - 1) shifts late, backward (LANES - k). Both together are
        # LANES - 1 shifts and twice the latency, whatever lane it is. Two lanes of one height, as a mix has many, fit together as
        # well, as if a lane between them had come at another time: what most peaks agree on is when it came.
        def settled(peaks, others, lanes)
          candidates = peaks.map { |peak| alike(peak, others).filter_map { |other| together(peak, other, lanes) } }
          agreed = candidates.flat_map { |pings| pings.map(&:latency_frames).uniq }.tally
          # Those of most alike heights come first, and stay first among equals.
          candidates.filter_map { |pings| pings.each_with_index.max_by { |ping, at| [agreed[ping.latency_frames], -at] }&.first }
        end

        # @return [Array<Peak>] of the other order, those of most alike heights first
        def alike(peak, others)
          near = others.select { |other| (peak.height - other.height).abs < peak.height.abs * SAME_HEIGHT }
          near.sort_by { |other| (peak.height - other.height).abs }
        end

        def together(peak, other, lanes)
          twice = (peak.at + other.at - (Sequence::LANES - 1) * Sequence::SHIFT) % Sequence::LENGTH
          # Half of it, in a ring of odd length.
          latency = twice.even? ? twice / 2 : (twice + Sequence::LENGTH) / 2
          index, rest = ((peak.at - latency) % Sequence::LENGTH).divmod(Sequence::SHIFT)
          return nil unless rest.zero? && index < lanes && latency < Sequence::LENGTH / 2

          new(lane: index + 1, gain: (peak.height + other.height) / 2, latency_frames: latency, coloured: [peak.share, other.share].min < 0.5)
        end
      end
    end
  end
end
