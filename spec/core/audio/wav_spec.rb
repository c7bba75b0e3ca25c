# frozen_string_literal: true

require "core_helper"
require "support/wav_files"

RSpec.describe Loomshuttle::Audio::Wav::Reader do
  def samples(bytes) = WavFiles.reader(bytes).then { |reader| reader.read_s32(0, reader.frames) }

  describe "encodings" do
    values = [0, 1, -1, 32_767, -32_768]
    {
      "16 bit" => WavFiles.pcm16(values),
      "24 bit" => WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 24), WavFiles.chunk("data", values.map { |v| [v << 8].pack("l<")[0, 3] }.join)),
      "32 bit" => WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 32), WavFiles.chunk("data", values.map { |v| v << 16 }.pack("l<*"))),
      "float" => WavFiles.riff(WavFiles.fmt(3, 1, 48_000, 32), WavFiles.chunk("data", values.map { |v| v / 32_768.0 }.pack("e*"))),
      "64 bit float" => WavFiles.riff(WavFiles.fmt(3, 1, 48_000, 64), WavFiles.chunk("data", values.map { |v| v / 32_768.0 }.pack("E*"))),
      "extensible" => WavFiles.riff(WavFiles.extensible(1, 1, 48_000, 16), WavFiles.chunk("data", values.pack("s<*")))
    }.each do |name, bytes|
      it("reads #{name} to one full scale") { expect(samples(bytes)[true, 0].to_a).to eq(values.map { |v| v << 16 }) }
    end

    it "gives as they sound what it gives as integers; float over full scale stays, what is no finite number is silent" do
      steps = [0, 1, -32_768, 32_767, 1234, -77, 9, 8]
      kinds = {"16" => WavFiles.pcm16(steps), "float" => WavFiles.riff(WavFiles.fmt(3, 1, 48_000, 32), WavFiles.chunk("data", steps.map { |v| v / 32_768.0 }.pack("e*"))),
               "64" => WavFiles.riff(WavFiles.fmt(3, 1, 48_000, 64), WavFiles.chunk("data", steps.map { |v| v / 32_768.0 }.pack("E*")))}
      kinds.each do |kind, bytes|
        reader = Loomshuttle::Audio::Wav::Reader.new(StringIO.new(bytes))
        expect([kind, reader.read_float(1, 5)[true, 0].to_a, reader.read_float(8, 3).size]).to eq([kind, steps[1, 5].map { |value| value / 32_768.0 }, 0])
      end
      wild = Loomshuttle::Audio::Wav::Reader.new(StringIO.new(WavFiles.riff(WavFiles.fmt(3, 2, 48_000, 32), WavFiles.chunk("data", [0.5, Float::NAN, 2.0, -Float::INFINITY, -1.5, 0.25].pack("e*")))))
      expect(wild.read_float(0, 3).to_a).to eq([[0.5, 0.0], [2.0, 0.0], [-1.5, 0.25]])
    end

    it "clips float over full scale and makes what is no number silent" do
      bytes = WavFiles.riff(WavFiles.fmt(3, 1, 48_000, 32), WavFiles.chunk("data", [2.0, -2.0, Float::NAN, Float::INFINITY].pack("e*")))
      expect(samples(bytes)[true, 0].to_a).to eq([2**31 - 1, -2**31, 0, 2**31 - 1])
    end

    # Against Ruby's own numbers, which are wide: the reader has a shorter way where all lies within full scale.
    it "reads float of any size as exact sums round it" do
      random = Random.new(7)
      odd = [1e-40, -1e-42, 1.0 - 2**-24, -1.0, 1.0, 3e38, -3e38, Float::INFINITY, Float::NAN]
      20.times do |round|
        floats = (Array.new(50) { random.rand(-1.0..1.0) * 10.0**-random.rand(10) } + odd.first(round % 10)).pack("e*").unpack("e*")
        expected = floats.map { |value| value.nan? ? 0 : (value.clamp(-2.0, 2.0) * 2**31).round(half: :even).clamp(-2**31, 2**31 - 1) }
        expect(samples(WavFiles.riff(WavFiles.fmt(3, 1, 48_000, 32), WavFiles.chunk("data", floats.pack("e*"))))[true, 0].to_a).to eq(expected)
      end
    end

    it "turns frames to channels and back, whatever there are" do
      [[1, 5], [5, 1], [2, 7], [7, 2], [8, 9], [3, 4], [1, 1]].each do |shape|
        samples = Numo::Int32.new(*shape).seq
        expect(Loomshuttle::Audio::Wav::Samples.turned(samples).to_a).to eq(samples.to_a.transpose)
      end
    end

    it "has no frames where a file was cut off meanwhile" do
      [WavFiles.pcm16([1, 2, 3, 4], channels: 2), WavFiles.riff(WavFiles.fmt(3, 2, 48_000, 32), WavFiles.chunk("data", [0.5, 0.25].pack("e*")))].each do |bytes|
        io = StringIO.new(bytes)
        reader = Loomshuttle::Audio::Wav::Reader.new(io)
        io.string = io.string[0, 45]
        expect([reader.read_s32(0, 4), reader.read_float(0, 4)].map(&:shape)).to eq([[0, 2], [0, 2]])
      end
    end

    it "keeps channels apart" do
      expect(samples(WavFiles.pcm16([1, 2, 3, 4], channels: 2)).to_a).to eq([[1 << 16, 2 << 16], [3 << 16, 4 << 16]])
    end
  end

  describe "files that lie" do
    good = WavFiles.pcm16([1, 2, 3, 4])
    {
      "cut_short" => [good[0..-4], 2, /says 8 bytes, 5 are there/],
      "header_says_too_much" => [good.dup.tap { |b| b[4, 4] = [999_999].pack("V") }, 4, /header says 1000007 bytes, the file has 52/],
      "data_size_says_too_much" => [good.dup.tap { |b| b[40, 4] = [0x7FFFFFFF].pack("V") }, 4, /"data" says 2147483647 bytes, 8 are there/],
      "unknown_chunk" => [WavFiles.riff(WavFiles.chunk("odd!", "xyz"),
        WavFiles.fmt(1, 1, 48_000, 16),
        WavFiles.chunk("data", [7].pack("s<"))),
        1,
        nil],
      "odd_chunk_without_pad" => [WavFiles.riff(WavFiles.chunk("note", "xyz", pad: false),
        WavFiles.fmt(1, 1, 48_000, 16),
        WavFiles.chunk("data", [7].pack("s<"))),
        1,
        /no pad byte/],
      "zero_frames" => [WavFiles.pcm16([]), 0, /holds no frames/],
      "last_frame_cut" => [WavFiles.riff(WavFiles.fmt(1, 2, 48_000, 16), WavFiles.chunk("data", "123456")),
        1,
        /last frame is cut short by 2 bytes/]
    }.each do |defect, (bytes, frames, warning)|
      it "reads #{defect} as far as it is good, and says so" do
        reader = WavFiles.reader(bytes)
        expect(reader.frames).to eq(frames)
        expect(reader.read_s32(0, 100).shape).to eq([frames, reader.format.channels])
        warning ? expect(reader.warnings.join("; ")).to(match(warning)) : expect(reader.warnings).to(eq([]))
      end
    end
  end

  describe "files that are no WAV" do
    {
      "" => /an empty file/,
      "hello, I am a text file" => /begins with RIFF or RF64/,
      "RIFF\x04\0\0\0WAVE" => /no fmt chunk/,
      WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 16)) => /no data chunk/,
      WavFiles.riff(WavFiles.fmt(2, 1, 48_000, 16)) => /format tag 2.*PCM \(1\) or IEEE float \(3\)/,
      WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 12)) => /12 bits.*16, 24, 32/,
      WavFiles.riff(WavFiles.fmt(1, 0, 48_000, 16)) => /0 channels/,
      WavFiles.riff(WavFiles.fmt(1, 1, 0, 16)) => /0 Hz/,
      WavFiles.riff(WavFiles.chunk("fmt ", "short")) => /fmt chunk of 5 bytes/
    }.each do |bytes, message|
      it("refuses #{message.source}") { expect { WavFiles.reader(bytes.b) }.to raise_error(Loomshuttle::Audio::Wav::Malformed, message) }
    end
  end

  # Numbers from memory of the iXML specification: the time stamp in two halves of 32 bit, at a rate of its own.
  it "tells when it begins by Broadcast Wave's TimeReference, else by iXML, at the file's own rate" do
    ixml = ->(high, low, rate) { WavFiles.chunk("iXML", "<BWFXML><SPEED><TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI>#{high}</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI><TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO> #{low} </TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO><TIMESTAMP_SAMPLE_RATE>#{rate}</TIMESTAMP_SAMPLE_RATE></SPEED></BWFXML>") }
    bext = WavFiles.chunk("bext", ("\0" * 338) + [777].pack("Q<") + ("\0" * 256))
    time = ->(*chunks) { WavFiles.reader(WavFiles.riff(*chunks, WavFiles.fmt(1, 1, 48_000, 16), WavFiles.chunk("data", "ab"))).time_reference_samples }
    expect([time[ixml[0, 96_000, 96_000]], time[ixml[1, 4, 48_000]], time[bext, ixml[0, 96_000, 96_000]], time[]]).to eq([48_000, 2**32 + 4, 777, nil])
    expect([time[ixml[0, "x", 48_000]], time[ixml[0, 5, 0]], time[WavFiles.chunk("iXML", "<SPEED>")]]).to eq([nil, nil, nil])
  end

  it "never fails in another way, whatever bytes are turned in a good file" do
    random = Random.new(42)
    good = WavFiles.riff(WavFiles.chunk("bext", "x" * 700),
      WavFiles.chunk("iXML", "<BWFXML><a></BWFXML>"),
      WavFiles.fmt(1, 2, 48_000, 24),
      WavFiles.chunk("LIST", "adtllabl\x08\0\0\0\x01\0\0\0abc\0"),
      WavFiles.chunk("cue ", "\x02\0\0\0" + "a" * 24),
      WavFiles.chunk("data", "s" * 60))
    outcomes = Array.new(400) do
      bytes = good.dup
      random.rand(1..6).times { bytes.setbyte(random.rand(bytes.bytesize), random.rand(256)) }
      Loomshuttle::Audio::Inspection.of(StringIO.new(bytes[0, random.rand(20..bytes.bytesize)]), "turned.wav") && :read
    rescue Loomshuttle::Audio::Wav::Malformed
      :refused
    end
    expect(outcomes.tally.keys).to match_array(%i[read refused])
  end
end

RSpec.describe Loomshuttle::Audio::Wav::Header do
  let(:bext) do
    Loomshuttle::Audio::Wav::Bext.new(time_reference_samples: 2**33 + 5,
      description: "Kick",
      originator: "Loomshuttle",
      date: "2026-11-24",
      time: "20:15:00")
  end
  let(:header) { described_class.new(sample_rate_hz: 48_000, bext: bext, track_names: ["Kick <in> & \"out\" 🎻"]) }

  it "keeps one length, so that it can be refreshed in place, also past 4 GiB" do
    expect([0, 1000, 2**31, 2**33].map { |frames| header.bytes(frames).bytesize }.uniq).to eq([header.size])
  end

  it "is read back with its time reference and its whole name" do
    reader = WavFiles.reader(header.bytes(2) + "abcdef")
    expect([reader.frames, reader.bext.time_reference_samples, reader.track_names, reader.warnings]).to eq([2, 2**33 + 5, ["Kick <in> & \"out\" 🎻"], []])
  end

  # EBU Tech 3285: bext has 602 fixed bytes (from memory; ffprobe reads it below).
  it "has a bext chunk of 602 fixed bytes" do
    expect(bext.to_s.bytesize).to eq(602)
  end

  # EBU Tech 3306: ds64 in the place of JUNK, 32-bit sizes 0xFFFFFFFF.
  it "becomes RF64 when a file passes 4 GiB" do
    frames = 2**32 / 3 + 1
    bytes = header.bytes(frames)
    expect([bytes[0, 4], bytes[12, 4], bytes[-4..].unpack1("V"), bytes.unpack("@20Q<Q<Q<")[1, 2]]).to eq(["RF64", "ds64", 0xFFFFFFFF, [frames * 3, frames]])
  end

  describe "read by other programs" do
    around { |example| Dir.mktmpdir { |folder| (@path = File.join(folder, "kick.wav")) && example.run } }

    before { File.binwrite(@path, header.bytes(4800) + Loomshuttle::Audio::Wav::Samples.to_24(Numo::Int32.new(4800).seq * 256 * 100)) }

    it "agrees with ffprobe on time reference, originator and date" do
      tags = JSON.parse(IO.popen(["ffprobe", "-v", "error", "-show_format", "-show_streams", "-of", "json", @path], &:read))
      expect(tags["format"]["tags"]).to include("time_reference" => (2**33 + 5).to_s, "encoded_by" => "Loomshuttle", "date" => "2026-11-24")
      expect(tags["streams"].first).to include("codec_name" => "pcm_s24le",
        "sample_rate" => "48000",
        "channels" => 1,
        "duration_ts" => 4800)
    end

    it "agrees with sndfile-info" do
      expect(IO.popen(["sndfile-info", @path], &:read)).to match(/Valid Bits\s+: 24/).and match(/^Frames\s+: 4800/)
    end

    it "agrees sample for sample with ffmpeg and with the gem wavefile" do
      require "wavefile"
      ours = File.open(@path, "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).read_s32(0, 4800)[true, 0].to_a }
      ffmpeg = IO.popen(["ffmpeg", "-v", "error", "-i", @path, "-f", "s32le", "-"], "rb", &:read).unpack("l<*")
      gem = WaveFile::Reader.new(@path).read(4800).samples.map { |value| value << 8 }
      expect([ffmpeg, gem]).to eq([ours, ours])
    end

    it "agrees with ffprobe on a sparse RF64 file over 4 GiB" do
      frames = 2**32 / 3 + 48_000
      File.open(@path, "wb") { |file| file.write(header.bytes(frames)) && file.truncate(header.size + frames * 3) }
      seconds = IO.popen(["ffprobe", "-v", "error", "-show_entries", "stream=duration_ts", "-of", "csv=p=0", @path], &:read).to_i
      reader = File.open(@path, "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).frames }
      expect([seconds, reader]).to eq([frames, frames])
      # libsndfile's RF64 reader takes no pad byte behind an odd chunk.
      expect(IO.popen(["sndfile-info", @path], err: %i[child out], &:read)).to match(/^Frames\s+: #{frames}$/)
    end
  end
end
