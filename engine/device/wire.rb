# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      # Samples as an interface has them, to 32 bits with the value in the upper ones, and back.
      # What is wider loses its lowest bits, nothing is scaled.
      module Wire
        module_function

        # @param bytes [String] interleaved
        # @param format [String] of Alsa::Library::FORMATS
        # @return [String] the same, 32 bit
        def to_s32(bytes, format)
          case format
          when "S32_LE" then bytes
          when "S16_LE" then (Numo::Int32.cast(Numo::Int16.from_binary(bytes)) << 16).to_binary
          else Audio::Wav::Samples.from_24(bytes).to_binary
          end
        end

        # @param bytes [String] interleaved 32 bit
        def from_s32(bytes, format)
          case format
          when "S32_LE" then bytes
          when "S16_LE" then Numo::Int16.cast(Numo::Int32.from_binary(bytes) >> 16).to_binary
          else Audio::Wav::Samples.to_24(Numo::Int32.from_binary(bytes))
          end
        end
      end
    end
  end
end
