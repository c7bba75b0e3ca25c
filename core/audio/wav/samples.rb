# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # Bytes of a file to samples and back. What is done to each sample is done to a flat row of them: along an axis of one,
      # as a file of one channel has it, the same sums take twenty to forty times as long.
      module Samples
        module_function

        # @param bytes [String] whole frames, interleaved, little-endian
        # @return [Numo::Int32] [frames, channels], full scale 2^31
        def to_s32(bytes, frames, format)
          bytes = bytes.byteslice(0, frames * format.frame_bytes)
          frames.zero? ? Numo::Int32.zeros(0, format.channels) : flat(bytes, format).reshape!(frames, format.channels)
        end

        # Frame by frame to channel by channel, and back.
        #
        # @param samples [Numo::NArray] [frames, channels] or [channels, frames]
        # @return [Numo::NArray] the other way round, as it lies in memory
        def turned(samples)
          rows, columns = samples.shape
          # The fastest way hangs on how many channels there are: one lies right already, two are moved whole, many frame by frame.
          case [rows, columns].min
          when 1 then samples.flatten.reshape!(columns, rows)
          when 2 then two_turned(samples, room(samples.class, columns, rows))
          else samples.transpose.dup
          end
        end

        # Three bytes become the upper three of four: the value times 256, sign and all. Byte by
        # byte of all samples is seven times as fast as one store of three.
        #
        # @param bytes [String] 24 bit
        # @return [Numo::Int32] flat, full scale 2^31
        def from_24(bytes)
          packed = Numo::UInt8.from_binary(bytes, [bytes.bytesize / 3, 3])
          wide = Numo::UInt8.zeros(bytes.bytesize / 3, 4)
          3.times { |plane| wide[true, plane + 1].store(packed[true, plane]) }
          packed.free
          words = wide.to_binary
          wide.free
          Numo::Int32.from_binary(words).tap { words.clear }
        end

        # @param bytes [String] 32-bit float, interleaved
        # @return [Numo::SFloat] [frames, channels]; samples that are no finite number are silence
        def of_float(bytes, shape)
          bytes = bytes.byteslice(0, shape.inject(:*) * 4) if bytes.bytesize > shape.inject(:*) * 4
          samples = Numo::SFloat.from_binary(bytes, shape)
          # One that is none makes the sum none.
          samples[~samples.isfinite] = 0.0 unless samples.size.zero? || samples.sum.finite?
          samples
        end

        # Samples that are no number become silence; what lies over full scale is clipped.
        def from_float(samples)
          # Times a power of two nothing is lost in 32 bits, and half the time is saved.
          return Numo::Int32.cast((samples * Scale::FULL_SCALE_S32).inplace.rint) if within_full_scale?(samples)

          wide = Numo::DFloat.cast(samples)
          wide[wide.isnan] = 0.0
          Numo::Int32.cast((wide * Scale::FULL_SCALE_S32).rint.clip(-Scale::FULL_SCALE_S32, Scale::MAX_S32))
        end

        # @param samples [Numo::Int32] [frames] or [frames, channels], full scale 2^31
        # @return [String] 24-bit little-endian; the lowest eight bits are dropped
        def to_24(samples) = three_of_four(samples, 1)

        # @param steps [Numo::Int32] [frames] or [frames, channels], full scale 2^23
        # @return [String] 24-bit little-endian
        def steps_to_24(steps) = three_of_four(steps, 0)

        # @param bytes [String] 24-bit samples of one channel
        # @return [String] the same as 32-bit float; exact, since float32 holds 24 bits
        def float_of_24(bytes)
          (Numo::SFloat.cast(from_24(bytes)) / Scale::FULL_SCALE_S32).to_binary
        end

        # @param channels [Array<String>] samples of one channel each
        # @param bytes [Integer] a sample
        # @return [String] frame by frame
        def interleave(channels, bytes)
          return channels.first if channels.size == 1

          frames = channels.first.bytesize / bytes
          woven = Numo::UInt8.zeros(frames, channels.size, bytes)
          channels.each_with_index { |channel, at| woven[true, at, true] = Numo::UInt8.from_binary(channel, [frames, bytes]) }
          woven.to_binary
        end

        def flat(bytes, format)
          case [format.encoding, format.bits]
          when ["pcm", 16] then Numo::Int32.cast(Numo::Int16.from_binary(bytes)) << 16
          when ["pcm", 24] then from_24(bytes)
          when ["pcm", 32] then Numo::Int32.from_binary(bytes)
          when ["float", 32] then from_float(Numo::SFloat.from_binary(bytes))
          else from_float(Numo::DFloat.from_binary(bytes))
          end
        end

        def within_full_scale?(samples)
          return false unless samples.is_a?(Numo::SFloat) && samples.sum.finite?

          low, high = samples.minmax
          low >= -1 && high < 1
        end

        # Memory that is written over at once: filling it with zeros first costs as much as what is done to it.
        def room(kind, *shape) = kind.new(*shape).allocate

        def two_turned(samples, out)
          2.times { |at| (samples.shape[0] == 2) ? out[true, at].store(samples[at, true]) : out[at, true].store(samples[true, at]) }
          out
        end

        # What it takes on the way is given back at once: of much sound the collector would have to run at every turn.
        def three_of_four(words, first)
          bytes = words.to_binary
          wide = Numo::UInt8.from_binary(bytes, [words.size, 4])
          bytes.clear
          packed = room(Numo::UInt8, words.size, 3)
          3.times { |plane| packed[true, plane].store(wide[true, plane + first]) }
          wide.free
          packed.to_binary.tap { packed.free }
        end
        private_class_method :from_float, :within_full_scale?, :flat, :room, :two_turned, :three_of_four
      end
    end
  end
end
