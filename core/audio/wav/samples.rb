# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # Bytes of a file to samples and back.
      module Samples
        module_function

        # @param bytes [String] whole frames, interleaved, little-endian
        # @return [Numo::Int32] [frames, channels], full scale 2^31
        def to_s32(bytes, frames, format)
          shape = [frames, format.channels]
          bytes = bytes.byteslice(0, frames * format.frame_bytes)
          case [format.encoding, format.bits]
          when ["pcm", 16] then Numo::Int32.cast(Numo::Int16.from_binary(bytes, shape)) << 16
          when ["pcm", 24] then from_24(bytes, shape)
          when ["pcm", 32] then Numo::Int32.from_binary(bytes, shape)
          when ["float", 32] then from_float(Numo::SFloat.from_binary(bytes, shape))
          else from_float(Numo::DFloat.from_binary(bytes, shape))
          end
        end

        # Three bytes become the upper three of four: the value times 256, sign and all. Byte by
        # byte of all samples is seven times as fast as one store of three.
        #
        # @param bytes [String] 24 bit
        # @return [Numo::Int32] full scale 2^31
        def from_24(bytes, shape = [bytes.bytesize / 3])
          packed = Numo::UInt8.from_binary(bytes, [bytes.bytesize / 3, 3])
          wide = Numo::UInt8.zeros(bytes.bytesize / 3, 4)
          3.times { |plane| wide[true, plane + 1].store(packed[true, plane]) }
          Numo::Int32.from_binary(wide.to_binary, shape)
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
          wide = Numo::DFloat.cast(samples)
          wide[wide.isnan] = 0.0
          Numo::Int32.cast((wide * Scale::FULL_SCALE_S32).rint.clip(-Scale::FULL_SCALE_S32, Scale::MAX_S32))
        end

        # @param samples [Numo::Int32] [frames] or [frames, channels], full scale 2^31
        # @return [String] 24-bit little-endian; the lowest eight bits are dropped
        def to_24(samples)
          wide = Numo::UInt8.from_binary(samples.to_binary, [samples.size, 4])
          packed = Numo::UInt8.zeros(samples.size, 3)
          3.times { |plane| packed[true, plane].store(wide[true, plane + 1]) }
          packed.to_binary
        end

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
        private_class_method :from_float
      end
    end
  end
end
