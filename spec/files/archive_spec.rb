# frozen_string_literal: true

require "core_helper"
require "support/wav_files"
require "tmpdir"
require_relative "../../boot/files"

RSpec.describe Loomshuttle::Files::Archive do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:into) { File.join(@folder, "into") }

  def archive(files)
    path = File.join(@folder, "sent.zip")
    FileUtils.rm_f(path)
    Zip::File.open(path, create: true) { |zip| files.each { |name, bytes| zip.get_output_stream(name) { |out| out.write(bytes) } } }
    path
  end

  def unpack(path, **more, &block) = described_class.unpack(path, into: into, wanted: /\.wav\z/i, room_bytes: 10**9, **more, &block)

  it "brings out the sound files, whatever folders they are in and whatever their names try, and nothing else" do
    tone = WavFiles.pcm16((0..3000).to_a)
    path = archive("take 1/01 Kick.wav" => tone, "../../../etc/02 evil.wav" => "two", "take 1\\03 Grün.WAV" => "three", "notes.txt" => "no",
      "__MACOSX/take 1/._01 Kick.wav" => "no", ".hidden.wav" => "no")
    found = unpack(path)
    expect(found.map { |one| one[:title] }).to eq(["01 Kick.wav", "02 evil.wav", "03 Grün.WAV"])
    expect(found.map { |one| File.binread(one[:path]) }).to eq([tone, "two", "three"])
    expect(found.map { |one| one[:bytes] }).to eq([tone.bytesize, 3, 5])
    expect(Dir.glob("**/*", base: @folder).sort).to eq(%w[into into/1 into/2 into/3 sent.zip])
  end

  it "is the same as what unzip of the system makes of it", if: system("command -v python3 > /dev/null") do
    path = archive((1..20).to_h { |n| ["#{n.to_s.rjust(2, "0")}.wav", Random.new(n).bytes(n * 1000)] })
    system("python3", "-c", "import sys, zipfile; zipfile.ZipFile(sys.argv[1]).extractall(sys.argv[2])", path, File.join(@folder, "theirs"), exception: true)
    expect(unpack(path).map { |one| File.binread(one[:path]) }).to eq(Dir.glob(File.join(@folder, "theirs/*")).map { |one| File.binread(one) })
  end

  it "refuses what is no archive, is cut off, has nothing for us, or is larger than the disk" do
    whole = File.binread(archive("a.wav" => Random.new(1).bytes(50_000)))
    {"nothing" => /a ZIP archive that is whole/, whole[0...-200] => /a ZIP archive that is whole/, "" => /a ZIP archive that is whole/}.each do |bytes, words|
      File.binwrite(File.join(@folder, "bad.zip"), bytes)
      expect { unpack(File.join(@folder, "bad.zip")) }.to raise_error(Loomshuttle::BadInput, words)
    end
    expect { unpack(archive("notes.txt" => "x")) }.to raise_error(Loomshuttle::BadInput, /0 files.*1 to 4000/)
    expect { unpack(archive("a.wav" => "x" * 3_000_000), room_bytes: 2_000_000) }.to raise_error(Loomshuttle::BadInput, /3 MB.*2 MB/)
  end

  it "stops at what an entry says of its own size, so that no little file fills the disk" do
    path = archive("a.wav" => "\0" * 5_000_000)
    # Both records of its size are made to lie: 10 bytes.
    bytes = File.binread(path)
    lying = bytes.gsub([5_000_000].pack("V"), [10].pack("V"))
    expect(lying).not_to eq(bytes)
    File.binwrite(path, lying)
    expect { unpack(path) }.to raise_error(Loomshuttle::BadInput, /ZIP archive/)
    expect(Dir.glob(File.join(into, "*")).sum { |file| File.size(file) }).to be < 3_000_000
  end

  it "is broken off by whoever asked for it" do
    path = archive("a.wav" => Random.new(1).bytes(5_000_000))
    stop = Class.new(StandardError)
    expect { unpack(path) { raise stop } }.to raise_error(stop)
  end
end
