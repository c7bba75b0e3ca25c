# frozen_string_literal: true

require "support/wav_files"

# Files that went wrong: each word of every header field in turn, cut at and around each chunk, sizes
# of nothing and of everything, more channels than there can be, tags in tags. All of them are made
# the same way each time.
module DamagedWav
  WORDS = [0, 1, 7, 0x7FFFFFFF, 0x80000000, 0xFFFFFFFE, 0xFFFFFFFF].freeze
  private_constant :WORDS

  module_function

  # @return [Hash{String => String}] name and bytes of good files with every chunk that is read
  def good
    bext = WavFiles.chunk("bext", ["Kick", "Loomshuttle", "", "2026-11-25", "20:15:00"].pack("a256a32a32a10a8") + [5_000_000_000, 1].pack("Q<v") + "\0" * 254)
    ixml = WavFiles.chunk("iXML", "<BWFXML><TRACK_LIST><TRACK><NAME>Kick</NAME></TRACK></TRACK_LIST></BWFXML>")
    list = WavFiles.chunk("LIST", "adtl" + WavFiles.chunk("labl", "\x01\0\0\0Waltz\0"))
    cue = WavFiles.chunk("cue ", [1, 1, 0, "data", 0, 0, 4].pack("VVVa4VVV"))
    samples = WavFiles.chunk("data", Random.new(3).bytes(2 * 3 * 40))
    whole = WavFiles.riff(bext, ixml, WavFiles.fmt(1, 2, 48_000, 24), list, cue, samples)
    ds64 = WavFiles.chunk("ds64", [whole.bytesize, 240, 40, 0].pack("Q<Q<Q<V"))
    rf64 = "RF64".b + [0xFFFFFFFF].pack("V") + "WAVE" + ds64 + WavFiles.fmt(1, 2, 48_000, 24) + "data" + [0xFFFFFFFF].pack("V") + Random.new(4).bytes(240)
    {"wave" => whole, "rf64" => rf64, "float" => WavFiles.riff(WavFiles.extensible(3, 2, 48_000, 32), WavFiles.chunk("fact", [30].pack("V")), WavFiles.chunk("data", Random.new(5).bytes(240)))}
  end

  # @yield [String, String] name and bytes of each
  def each(&block)
    good.each do |name, bytes|
      head = [bytes.bytesize - 240, 0].max
      fields(name, bytes, head, &block)
      cuts(name, bytes, &block)
    end
    oddities.each(&block)
  end

  # Every word of the header, wherever a field of two or four bytes begins.
  def fields(name, bytes, head)
    (0..(head - 4)).step(2) do |at|
      # Within long texts one word is as good as another.
      next if at % 16 != 0 && bytes[at, 16].delete("\0").empty?

      WORDS.each { |word| yield "#{name}, byte #{at} is #{word}", bytes.dup.tap { |turned| turned[at, 4] = [word].pack("V") } }
    end
  end

  def cuts(name, bytes)
    starts = %w[RIFF RF64 WAVE ds64 bext iXML fmt LIST cue fact data].filter_map { |id| bytes.index(id) }
    starts.flat_map { |at| (-3..12).map { |by| at + by } }.uniq.select { |at| at.between?(0, bytes.bytesize) }.each { |at| yield "#{name}, cut at #{at}", bytes[0, at] }
  end

  def oddities
    samples = WavFiles.chunk("data", "\1\2" * 40)
    {"65,535 channels" => WavFiles.riff(WavFiles.fmt(1, 65_535, 48_000, 16), samples),
     "200,000 tags in tags" => WavFiles.riff(WavFiles.chunk("iXML", "<a>" * 200_000), WavFiles.fmt(1, 1, 48_000, 16), samples),
     "200,000 chunks" => WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 16), WavFiles.chunk("JUNK", "") * 200_000, samples),
     "100,000 marks" => WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 16), WavFiles.chunk("cue ", [100_000].pack("V") + [1, 0, "data", 0, 0, 4].pack("VVa4VVV") * 100_000), samples),
     "a chunk id of bytes" => WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 16), WavFiles.chunk("\xFF\xFE\0\x80".b, "x"), samples),
     "a crashed recorder's sizes" => WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 16), samples).tap { |bytes| bytes[4, 4] = "\0" * 4 }.tap { |bytes| bytes[40, 4] = "\0" * 4 }}
  end
end
