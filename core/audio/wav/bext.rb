# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # The Broadcast Wave extension chunk, EBU Tech 3285: 602 fixed bytes, then the coding
      # history. (Layout from memory; the specs cross-read it with ffprobe and sndfile-info.)
      Bext = Value.of(:time_reference_samples, description: "", originator: "", originator_reference: "", date: "",
        time: "", version: 1, coding_history: "") do
        # @param body [String] of the chunk
        # @return [Bext, nil] nil when the chunk is too short to be one
        def self.parse(body)
          return nil if body.bytesize < 348

          description, originator, reference, date, time, low, high, version = body.unpack("Z256Z32Z32A10A8VVv")
          texts = {description: description, originator: originator, originator_reference: reference, date: date, time: time,
                   coding_history: body.byteslice(602..).to_s.unpack1("Z*")}
          new(time_reference_samples: low + (high << 32),
            version: version,
            **texts.transform_values { |text| text.dup.force_encoding("UTF-8").scrub("?") })
        end

        # @return [String] of even size: a last line of odd length gets a space before its end
        def to_s
          [description, originator, originator_reference, date, time, time_reference_samples & 0xFFFFFFFF,
            time_reference_samples >> 32, version].pack("a256a32a32a10a8VVv").ljust(602, "\0") + even(coding_history.b)
        end

        def even(text) = text.bytesize.even? ? text : text.sub(/(\r\n)?\z/n) { " #{$1}" }
      end
    end
  end
end
