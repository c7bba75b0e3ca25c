# frozen_string_literal: true

module Loomshuttle
  module Capture
    # A take's waveform from its overview: rows of the device frame and each lane's lowest and
    # highest sample of a block, 16 bit, as the engine wrote them while it recorded.
    module Picture
      module_function

      # @param bytes [String] of take.overview
      # @param lanes [Integer] that it holds
      # @param range [Range] of device frames, end excluded
      # @param points [Integer] at most so many values a lane
      # @return [Array<Array<Array(Integer, Integer), nil>>] a list a lane: lowest and highest of
      #   each part of the range, nil where nothing was recorded
      def of(bytes, lanes, range, points)
        frames, values = rows(bytes, lanes)
        length = range.end - range.begin
        return Array.new(lanes) { [] } if length <= 0 || frames.size.zero?

        parts = parts(frames, range, [points, length].min)
        Array.new(lanes) { |lane| parts.map { |part| part && [values[part, lane, 0].min, values[part, lane, 1].max] } }
      end

      # @return [Array] frames [rows] as Numo::Int64, values [rows, lanes, 2] as Numo::Int16
      def rows(bytes, lanes)
        row_bytes = 8 + lanes * 4
        count = bytes.bytesize / row_bytes
        return [Numo::Int64.zeros(0), nil] if count.zero?

        table = Numo::UInt8.from_binary(bytes.byteslice(0, count * row_bytes), [count, row_bytes])
        [Numo::Int64.from_binary(table[true, 0...8].to_binary, [count]), Numo::Int16.from_binary(table[true, 8..].to_binary, [count, lanes, 2])]
      end

      # @return [Array<Range, nil>] rows of each part; a part narrower than a block is the block
      #   that it lies in, one that nothing was recorded in is nil
      def parts(frames, range, points)
        length = range.end - range.begin
        row_frames = (frames.size > 1) ? frames[1] - frames[0] : length
        edges = (0..points).map { |point| range.begin + point * length / points }
        edges.each_cons(2).map do |from, to|
          first = first_behind(frames, from - row_frames)
          last = first_behind(frames, to - 1) - 1
          (first <= last) ? first..last : nil
        end
      end

      # First row whose frame is behind this one.
      def first_behind(frames, frame) = (0...frames.size).bsearch { |row| frames[row] > frame } || frames.size
      private_class_method :rows, :parts, :first_behind
    end
  end
end
