# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      # A real interface through ALSA, the Linux kernel's own. See Device::Format for the contract.
      #
      #   AlsaDevice.new({"id" => "hw:0,0", "rate_hz" => 48_000, "lanes_in" => 32, "lanes_out" => 32})
      class AlsaDevice
        USUAL = {"rate_hz" => 48_000, "lanes_in" => 2, "lanes_out" => 2, "format" => "S32_LE", "block_frames" => 1024, "buffer_ms" => 100}.freeze
        # Blocks of silence between what is played and the converter: what scheduling may cost.
        AHEAD_BLOCKS = 3
        WRITE_S = 1.0
        private_constant :USUAL, :AHEAD_BLOCKS, :WRITE_S

        # @param wish [Hash] id, and what of USUAL is to be otherwise, string keys
        def initialize(wish)
          @wish = USUAL.merge(wish.compact)
          @lock = Mutex.new
        end

        def name = "ALSA #{@wish["id"]}"

        def open
          @closing = false
          @lock.synchronize { open_both }
          @part = String.new
          @lost_frames = 0
          format
        end

        def read(buffer, wait_s)
          input = @input or raise Lost, "it was closed"
          while (frames = @part.bytesize / input.frame_bytes) < @wish["block_frames"]
            got = locked(input) { input.read(@part, frames, wait_s) } or return nil
            overrun(input) if got == :late
          end
          buffer.replace(Wire.to_s32(@part, @wish["format"]))
          @part.clear
          @heard_s = now_s
          @lost_frames.tap { @lost_frames = 0 }
        end

        def write(bytes)
          output = @output or raise Lost, "it was closed"
          put = locked(output) { output.write(Wire.from_s32(bytes, @wish["format"]), WRITE_S) }
          return @wish["block_frames"] - put unless put == :late

          # What was to sound meanwhile does not sound later; there is silence for what it takes to begin again.
          prefill
          @wish["block_frames"]
        end

        # Whoever reads lets go of the lock for a moment only and takes it again: it is told first.
        def close
          @closing = true
          @lock.synchronize do
            [@input, @output].each { |pcm| pcm&.close }
            @input = @output = nil
          end
        end

        private

        def open_both
          [@input, @output].each { |pcm| pcm&.close }
          @input = Alsa::Pcm.new(wish("lanes_in"), Alsa::Library::CAPTURE)
          @output = Alsa::Pcm.new(wish("lanes_out"), Alsa::Library::PLAYBACK)
          # Both begin with one word where the driver can.
          Alsa::Library.snd_pcm_link(@input.handle, @output.handle)
          [@input, @output].each(&:prepare)
          AHEAD_BLOCKS.times { @output.write(silence, WRITE_S) }
          [@input, @output].each(&:start)
          @heard_s = now_s
        rescue Lost
          [@input, @output].each { |pcm| pcm&.close }
          @input = @output = nil
          raise
        end

        # A call never runs on a device that another thread closes at that moment.
        def locked(pcm)
          @lock.synchronize do
            raise Lost, "it was closed" if @closing || ![@input, @output].include?(pcm)

            yield
          end
        end

        # ALSA does not say how many frames were lost; the clock does, to within a period. What was read of this block is
        # lost as well: a block has no hole in it.
        def overrun(input)
          lost = ((now_s - @heard_s) * @wish["rate_hz"]).round - @wish["block_frames"]
          @lost_frames += [lost, 1].max + @part.bytesize / input.frame_bytes
          @part.clear
          @heard_s = now_s
          locked(input) { input.prepare && input.start }
        end

        def prefill
          locked(@output) do
            @output.prepare
            AHEAD_BLOCKS.times { @output.write(silence, WRITE_S) }
            @output.start
          end
        end

        def silence = "\0" * (@wish["block_frames"] * @wish["lanes_out"] * Alsa::Library::FORMATS.fetch(@wish["format"]).last)

        def wish(lanes)
          buffer = [@wish["buffer_ms"] * @wish["rate_hz"] / 1000, @wish["block_frames"] * (AHEAD_BLOCKS + 1)].max
          Alsa::Pcm::Wish.new(name: @wish["id"], rate_hz: @wish["rate_hz"], lanes: @wish[lanes], format: @wish["format"], block_frames: @wish["block_frames"],
            buffer_frames: buffer)
        end

        def format
          Format.new(rate_hz: @wish["rate_hz"], lanes_in: @wish["lanes_in"], lanes_out: @wish["lanes_out"], block_frames: @wish["block_frames"],
            latency_in_frames: @wish["block_frames"], latency_out_frames: @output.delay_frames)
        end

        def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      end
    end
  end
end
