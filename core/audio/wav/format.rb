# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # What the `fmt ` chunk says, checked: a Format can always be read.
      #
      # encoding  "pcm" or "float"
      Format = Value.of(:encoding, :channels, :sample_rate_hz, :bits, extensible: false) do
        # @param chunk [String] body of the `fmt ` chunk
        # @raise [Malformed] for an encoding that is not read here
        def self.parse(chunk)
          raise Malformed.new(value: "fmt chunk of #{chunk.bytesize} bytes", allowed: "it has at least 16") if chunk.bytesize < 16

          tag, channels, rate, _bytes, align, bits = chunk.unpack("vvVVvv")
          extensible = tag == EXTENSIBLE
          tag = chunk.unpack1("v", offset: 24) if extensible && chunk.bytesize >= 26
          check(tag, channels, rate, align, bits)
          new(encoding: (tag == PCM) ? "pcm" : "float", channels: channels, sample_rate_hz: rate, bits: bits, extensible: extensible)
        end

        def self.check(tag, channels, rate, align, bits)
          raise Malformed.new(value: "format tag #{tag}", allowed: "PCM (1) or IEEE float (3)") unless [PCM, FLOAT].include?(tag)
          raise Malformed.new(value: "#{bits} bits", allowed: ALLOWED_BITS[tag].join(", ")) unless ALLOWED_BITS[tag].include?(bits)
          raise Malformed.new(value: "#{channels} channels", allowed: "1 to 1024") unless channels.between?(1, 1024)
          raise Malformed.new(value: "#{rate} Hz", allowed: "a rate from 1 to 768000 Hz") unless rate.between?(1, 768_000)
          unless align == channels * bits / 8
            raise Malformed.new(value: "frames of #{align} bytes", allowed: "channels x bits / 8 = #{channels * bits / 8}")
          end
        end
        private_class_method :check

        def frame_bytes = channels * bits / 8
      end

      ALLOWED_BITS = {PCM => [16, 24, 32], FLOAT => [32, 64]}.freeze
    end
  end
end
