# frozen_string_literal: true

module Loomshuttle
  module Earshot
    # What comes back of a return ping: reads each lane in from the capture ring while the deck sends, and says which
    # lanes' sequences are there.
    #
    #   Echo.new(-> { ring }).heard(at_frame: 480_000, inputs: [1, 2], lanes: 12, level_dbfs: -30)   # => [{pings: [[1, 1.0, 137, false]], floor_db: -52.1}, ...]
    class Echo
      # How much of a quick ping is heard, and from where in it on: what is late has come in by then.
      QUICK_FROM = 12_288
      QUICK_FRAMES = Soundcheck::Proof::QUICK_LENGTH - QUICK_FROM
      # Blocks come in time, or the device stands still.
      WAIT_S = 5
      TURN = Ear::Sequence::LENGTH
      private_constant :QUICK_FROM, :QUICK_FRAMES, :WAIT_S, :TURN

      # @param ring [#call] => Rings::CaptureRing, nil while there is none
      def initialize(ring)
        @ring = ring
      end

      # @param at_frame [Integer] device frame of its first sample
      # @param inputs [Array<Integer>] lanes in that are listened to, from 1
      # @param lanes [Integer] that are sent
      # @param level_dbfs [Numeric] of each
      # @param quick [Boolean] only whether anything comes back
      # @return [Array<Hash>] one an input: pings as Ear::Ping#to_a and floor_db; gain_db instead of pings when it is quick
      # @raise [BadInput] without blocks, or when some were lost
      def heard(at_frame:, inputs:, lanes:, level_dbfs:, quick: false)
        ring = @ring.call or raise no_blocks
        beyond = inputs.find { |lane| lane > ring.lanes }
        raise BadInput.new(field: "inputs", value: beyond, allowed: "1 to #{ring.lanes}, the lanes of the device") if beyond

        reader = ring.reader(at_frame)
        sent = Audio::Scale.ratio(level_dbfs)
        return listen(reader, inputs, at_frame + QUICK_FROM, QUICK_FRAMES).map { |samples| quickly(samples, sent) } if quick

        # The ring holds what comes in while the first turn is worked out.
        forward, backward = [1, 3].map { |turn| listen(reader, inputs, at_frame + turn * TURN, TURN).map { |samples| Ear::Ping.turn(samples, sent: sent) } }
        forward.zip(backward).map { |one, other| said(Ear::Ping.both(one, other, lanes: lanes)) }
      end

      private

      def said(listened) = {pings: listened.pings.map(&:to_a), floor_db: Audio::Scale.dbfs(listened.floor).round(1)}

      def quickly(samples, sent)
        found = Ear::Ping.present(samples, from: QUICK_FROM, sent: sent)
        {gain_db: (Audio::Scale.dbfs(found[:gain]).round(1) if found[:gain].positive?), floor_db: Audio::Scale.dbfs(found[:floor]).round(1)}
      end

      # @return [Array<Numo::SFloat>] [count] an input, from a device frame on
      def listen(reader, inputs, from, count)
        samples = inputs.map { Numo::SFloat.zeros(count) }
        done = 0
        deadline_s = now_s + WAIT_S
        while done < count
          block = reader.read
          next wait(deadline_s) unless block

          deadline_s = now_s + WAIT_S
          raise hole if block.frame > from + done

          done += lay(samples, inputs, block, from, count)
        end
        samples
      end

      # @return [Integer] frames of it that this block brought
      def lay(samples, inputs, block, from, wanted)
        first = [from - block.frame, 0].max
        into = block.frame + first - from
        count = [block.frames - first, wanted - into].min
        return 0 unless count.positive?

        inputs.zip(samples) { |lane, one| one[into...(into + count)] = Numo::SFloat.from_binary(Audio::Wav::Samples.float_of_24(block.lane(lane - 1, from: first, count: count))) }
        count
      end

      def wait(deadline_s) = (now_s > deadline_s) ? raise(no_blocks) : sleep(0.01)
      def no_blocks = BadInput.new(field: "device", value: nil, allowed: "a device that gives blocks; none came for #{WAIT_S} s")
      def hole = BadInput.new(field: "device", value: nil, allowed: "a device that loses no blocks while it listens; one was lost, send the ping again")
      def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
