# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # Markers: the `cue ` chunk with its labels in a `LIST` of type `adtl`.
      module Cues
        CUE_BYTES = 24
        private_constant :CUE_BYTES

        module_function

        # @param chunks [Chunks]
        # @return [Array<Hash>] {frame:, label:} in order of time
        def parse(chunks)
          cue = chunks["cue "] or return []
          body = chunks.body(cue)
          count = [body.unpack1("V").to_i, (body.bytesize - 4) / CUE_BYTES].min
          labels = labels(chunks)
          (0...count).map { |i| body.unpack("VVa4VVV", offset: 4 + i * CUE_BYTES) }
            .map { |id, _position, _chunk, _start, _block, frame| {frame: frame, label: labels.fetch(id, "")} }.sort_by { |marker| marker[:frame] }
        end

        # @param markers [Array<Hash>] {frame:, label:}
        # @return [Hash{String => String}] bodies of even size by the ids of their chunks; none without markers
        def chunks(markers)
          return {} if markers.empty?

          points = markers.map.with_index(1) { |marker, id| [id, marker[:frame], "data", 0, 0, marker[:frame]].pack("VVa4VVV") }
          labels = markers.map.with_index(1) do |marker, id|
            text = "#{marker[:label]}\0".b
            ["labl", 4 + text.bytesize, id].pack("a4VV") + text + (text.bytesize.odd? ? "\0" : "")
          end
          {"cue " => [markers.size].pack("V") + points.join, "LIST" => "adtl".b + labels.join}
        end

        # Labels stand in a LIST of type adtl, wherever it is; there may be other lists before it.
        def labels(chunks)
          chunks.all("LIST").map { |list| chunks.body(list) }.select { |body| body[0, 4] == "adtl" }.map { |body| labels_in(body) }.inject({}, :merge)
        end

        def labels_in(body)
          found = {}
          at = 4
          while at + 12 <= body.bytesize
            kind, size, id = body.unpack("a4VV", offset: at)
            if kind == "labl" && size >= 4
              found[id] = body.byteslice(at + 12, size - 4).to_s.unpack1("Z*").force_encoding("UTF-8").scrub("?")
            end
            at += 8 + size + size % 2
          end
          found
        end
        private_class_method :labels, :labels_in
      end
    end
  end
end
