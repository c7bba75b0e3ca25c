# frozen_string_literal: true

# What the stand-in put on its card, block by block, as it wrote it down itself.
module WireLog
  LANES = 32
  FRAMES = 1024

  module_function

  # @return [Numo::Int32] [lanes, frames] of all whole blocks
  def read(path)
    size = 8 + LANES * FRAMES * 4
    bytes = File.binread(path)
    blocks = (0...bytes.bytesize / size).map { |i| Numo::Int32.from_binary(bytes.byteslice(i * size + 8, size - 8), [FRAMES, LANES]) }
    Numo::Int32.vstack(blocks).transpose.dup
  end

  # The band plays its bars again and again, each part with a length of its own: on a slow
  # machine a piece may lie in more than one place.
  #
  # @return [Array<Integer>] where a piece lies in a longer row of samples
  def places(row, piece)
    # The loudest sample stands in few places; a silent one in thousands.
    loudest = piece.abs.max_index
    candidates = row[loudest..(row.size - piece.size + loudest)].eq(piece[loudest]).where.to_a
    candidates.select { |at| row[at...(at + piece.size)] == piece }
  end
end
