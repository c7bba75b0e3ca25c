# frozen_string_literal: true

module Loomshuttle
  module Deck
    # What lies ready in the playback ring, ahead of the device's clock: laid down block by block, taken back, or made to
    # fall. It knows nothing of what plays; whoever fills it renders. Called by one thread at a time.
    #
    #   ahead = Ahead.new(-> { ring }, -> { page })
    #   ahead.from(480_000, now)                         # from there on all is another
    #   ahead.fill(now) { |frame, count| samples }       # until a second lies ready
    class Ahead
      # So much lies ready at any time.
      READY_S = 1.0
      # So few blocks are enough to begin with, and give time for more.
      FEW_BLOCKS = 4
      # What lies ready begins so many blocks from now.
      GO_BLOCKS = 2
      # Rendered in one go: what a voice costs is mostly the asking. The first ones behind a change
      # are few, for they are wanted at once.
      BATCH_BLOCKS = 16

      # late  blocks that were rendered behind their frame; overs  per lane, samples over full
      #   scale that were clipped
      attr_reader :late, :overs

      # @param ring [#call] => Rings::PlayRing of now, nil while there is no device
      # @param page [#call] => Rings::ClockPage::Reading, nil while there is no device
      def initialize(ring, page)
        @ring, @page = ring, page
        @levels = Levels.new
        begin_anew
      end

      # Something else plays: what is counted begins anew.
      #
      # @param overs [Hash{Integer => Integer}] of what is rendered of it already
      def begin_anew(overs = {})
        @late = 0
        @overs = overs
      end

      # @return [Array<Float>] dBFS of each lane in the block that sounds at a frame
      def dbfs(frame) = @levels.dbfs(frame)

      # From a device frame on all is laid anew. The engine's blocks begin at its own frames, which lost ones shift.
      #
      # @return [Integer] where the first block begins
      def from(frame, now)
        @next_frame = block_start(frame, now)
        @levels.take_back(@next_frame)
        @next_frame
      end

      # The same, where it does not lie behind what lies ready.
      def back_to(frame, now) = from([frame, @next_frame].min, now)

      # What has sounded is forgotten; where the clock has shifted, or is past what lies ready, it goes on behind it.
      def keep_up(now)
        @levels.forget(now.frame)
        behind = @next_frame < now.frame
        return if ((@next_frame - now.frame) % now.block_frames).zero? && !behind

        @late += ((now.frame - @next_frame) / now.block_frames.to_f).ceil + FEW_BLOCKS / 2 if behind
        @next_frame = now.frame + FEW_BLOCKS / 2 * now.block_frames
      end

      # @yield [Integer, Integer] device frame and count
      # @yieldreturn [Numo::SFloat, nil] [lanes, count], ours from then on; nil where nothing sounds
      # @return [Boolean] whether anything was done
      def fill(now, &render)
        ring = @ring.call or return false
        return false unless ring.lanes == now.lanes_out && ring.block_frames == now.block_frames

        wanted = [(READY_S * now.rate_hz / ring.block_frames).ceil, ring.slots - 2].min
        missing = wanted - (@next_frame - now.frame) / ring.block_frames
        # A batch is rendered when all of it is missing; before a change sounds, what there is.
        return false if missing < [BATCH_BLOCKS, wanted / 3].min && !soon?(now)

        while missing > 0
          count = [missing, soon?(now) ? FEW_BLOCKS : BATCH_BLOCKS].min
          write(ring, count, &render)
          missing -= count
        end
        true
      end

      # Lays what is rendered already. The engine may be past it by the time that it lies there, on a machine that is
      # busy: then it begins later, whole.
      #
      # @param blocks [Array<Array(String, Array<Float>)>] as Wire makes them
      # @return [Integer] device frame for which the first of them lies there
      # @raise [BadInput] without a device
      def lay(blocks, now)
        ring = ring!
        first, *rest = blocks.first(ring.slots - FEW_BLOCKS - 2).each_slice(FEW_BLOCKS).to_a
        at_frame = laid_in_time(ring, now, first)
        @next_frame = at_frame + first.size * now.block_frames
        rest.flatten(1).each do |bytes, peaks|
          keep(ring, @next_frame, bytes, peaks)
          @next_frame += now.block_frames
        end
        at_frame
      end

      # What lies ready falls within one block, and behind that it is taken away.
      #
      # @param fade [Fade] over that block, from its frame on
      # @raise [BadInput] without a device
      def fall(fade, now)
        ring, frame = ring!, fade.at_frame
        @levels.take_back(frame)
        soften(ring, frame, fade)
        (frame + ring.block_frames...@next_frame).step(ring.block_frames) { |at| ring.erase(at) }
        @next_frame = [frame + ring.block_frames, block_start(now.frame, now)].max
      end

      private

      def ring! = @ring.call || raise(BadInput.new(field: "device", value: nil, allowed: "a device that is running"))
      def block_start(frame, now) = now.frame + (frame - now.frame).div(now.block_frames) * now.block_frames

      # Whether what comes next sounds in a moment.
      def soon?(now) = @next_frame < now.frame + 2 * FEW_BLOCKS * now.block_frames

      def write(ring, blocks)
        samples = yield(@next_frame, blocks * ring.block_frames)
        @late += passed(blocks, ring.block_frames) if samples
        (samples ? Wire.blocks(samples, ring.block_frames, @overs) : [nil] * blocks).each do |bytes, peaks|
          bytes ? keep(ring, @next_frame, bytes, peaks) : ring.erase(@next_frame)
          @next_frame += ring.block_frames
          # Given back at once, as Wire does.
          bytes&.clear
        end
        samples&.free
      end

      # How many of the next blocks the engine is past by now, whatever took so long.
      def passed(blocks, block_frames) = @page.call.then { |now| now ? ((now.frame - @next_frame) / block_frames).clamp(0, blocks) : 0 }

      # The first blocks give time for all others.
      def laid_in_time(ring, now, first)
        loop do
          at_frame = now.frame + GO_BLOCKS * now.block_frames
          @levels.clear
          first.each_with_index { |(bytes, peaks), at| keep(ring, at_frame + at * now.block_frames, bytes, peaks) }
          now = @page.call || now
          return at_frame if now.frame <= at_frame

          first.each_index { |at| ring.erase(at_frame + at * now.block_frames) }
        end
      end

      def soften(ring, frame, fade)
        block = ring.read(frame) or return
        samples = Numo::SFloat.cast(Numo::Int32.from_binary(block, [ring.block_frames, ring.lanes]).transpose) / Audio::Scale::FULL_SCALE_S32
        Wire.blocks(samples * fade.ratios(frame, ring.block_frames), ring.block_frames, {}).each { |bytes, peaks| keep(ring, frame, bytes, peaks) }
      end

      def keep(ring, frame, bytes, peaks)
        ring.write(frame, bytes)
        @levels.add(frame, peaks)
      end
    end
  end
end
