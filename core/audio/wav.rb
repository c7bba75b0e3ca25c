# frozen_string_literal: true

module Loomshuttle
  module Audio
    # WAV, Broadcast Wave (EBU Tech 3285) and RF64 (EBU Tech 3306) over any IO.
    #
    #   reader = Wav::Reader.new(io)       # raises Wav::Malformed with one clear line
    #   reader.format.channels
    #   reader.read_s32(0, 1024)           # => Numo::Int32[frames, channels]
    module Wav
      PCM = 1
      FLOAT = 3
      EXTENSIBLE = 0xFFFE

      # A file that is no WAV, or one that nothing can be read from.
      class Malformed < BadInput
        def initialize(value:, allowed:)
          super(field: "file", value: value, allowed: allowed)
        end
      end
    end
  end
end
