# frozen_string_literal: true

require "core_helper"
require "tmpdir"
require_relative "../../boot/rings"

RSpec.describe Loomshuttle::Rings do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  def path(name) = File.join(@folder, name)

  describe Loomshuttle::Rings::CaptureRing do
    let(:ring) { described_class.create(path("capture"), lanes: 2, block_frames: 4, rate_hz: 48, seconds: 1) }

    def levels(value) = Numo::Int32[value, value].to_binary + Numo::Int32[value + 1, value + 1].to_binary
    def write(frame, session: 1, into: ring) = into.write(frame, session, levels(frame), [frame % 251].pack("C") * 24)

    it "gives each reader every block with its frame, its levels and its lanes" do
      early = ring.reader
      write(0)
      write(4)
      late = ring.reader
      write(8)
      expect(Array.new(3) { early.read.frame } + [early.read]).to eq([0, 4, 8, nil])
      block = late.read
      expect([block.frame, block.extremes.to_a, block.lane(1)]).to eq([8, [[8, 8], [9, 9]], "\x08".b * 12])
    end

    # A square wave's mean square is its height's square; its sum by plain numbers.
    it "knows each lane's mean square, of samples up to full scale and of one step" do
      steps = [[2**23 - 1, -2**23, 2**22, 0], [1, -1, 1, -1]]
      ring.write(0, 1, levels(0), steps.flatten.map { |step| [step].pack("l<")[0, 3] }.join)
      squares = ring.reader(0).read.square.to_a
      expect(squares.zip(steps)).to all(satisfy { |square, of| (square / (of.sum { |step| step.fdiv(2**23)**2 } / 4) - 1).abs < 1e-6 })
    end

    it "begins where it is asked to, or with the oldest that is there" do
      12.times { |i| write(i * 4) }
      expect([ring.reader(22).read.frame, ring.reader(20).read.frame, ring.reader(1000).read]).to eq([20, 20, nil])
      20.times { |i| write((12 + i) * 4) }
      expect(ring.reader(0).read.frame).to be_between(76, 84)
    end

    it "finds a frame behind a hole" do
      [0, 4, 8, 100, 104].each { |frame| write(frame) }
      expect([ring.reader(50).read.frame, ring.reader(9).read.frame]).to eq([100, 8])
    end

    it "tells a reader that fell behind how much it missed, and goes on with what is there" do
      reader = ring.reader
      40.times { |i| write(i * 4) }
      frames = []
      while (block = reader.read)
        frames << block.frame
      end
      expect(frames.each_cons(2).map { |a, b| b - a }.uniq).to eq([4])
      expect([frames.last, reader.missed_blocks]).to eq([156, 40 - frames.size])
    end

    # A second, plain model: a list of all that was ever written.
    it "agrees with a plain list over random writers and readers" do
      random = Random.new(5)
      written = []
      frame = 0
      readers = Array.new(3) { [ring.reader, [], 0] }
      2000.times do
        if random.rand(3) > 0
          frame += 4 + (random.rand(10).zero? ? random.rand(1..50) : 0)
          write(frame)
          written << frame
        else
          reader = readers[random.rand(3)]
          random.rand(1..6).times { (block = reader[0].read) && reader[1] << block.frame }
        end
      end
      readers.each do |reader, got, _|
        while (block = reader.read)
          got << block.frame
        end
        expect(got).to eq(got.sort.uniq & written)
        expect(written.size - got.size).to eq(reader.missed_blocks)
      end
    end

    it "is read by another process's opening of it" do
      write(0)
      other = described_class.open(path("capture"))
      reader = other.reader(0)
      expect([other.lanes, other.newest, reader.read.frame, reader.read]).to eq([2, 0, 0, nil])
      write(4)
      expect(reader.read.frame).to eq(4)
    end

    it "has all its room from the beginning" do
      size = File.stat(path("capture").tap { ring })
      expect(size.blocks * 512).to be >= described_class.bytes(lanes: 2, block_frames: 4, rate_hz: 48, seconds: 1)
      200.times { |i| write(i * 4) }
      expect(File.stat(path("capture")).size).to eq(size.size)
    end
  end

  describe Loomshuttle::Rings::PlayRing do
    let(:ring) { described_class.create(path("play"), lanes: 1, block_frames: 4, rate_hz: 48_000, slots: 8) }

    it "gives exactly the block of the frame that is asked for, and nothing else" do
      ring.write(100, "abcdefghijklmnop")
      expect([ring.read(100), ring.read(96), ring.read(132), ring.ready?(100)]).to eq(["abcdefghijklmnop", nil, nil, true])
      ring.erase(100)
      expect(ring.read(100)).to be_nil
    end

    it "writes over what is old, also of another phase" do
      ring.write(0, "a" * 16)
      ring.write(33, "b" * 16)
      expect([ring.read(0), ring.read(33), described_class.open(path("play")).read(33)]).to eq([nil, "b" * 16, "b" * 16])
    end

    it "takes a block that is being written for none" do
      ring.write(0, "a" * 16)
      File.open(path("play"), "r+b") { |file| file.pwrite("zz", 4096 + 16 + 16) }
      expect(ring.read(0)).to be_nil
    end
  end

  describe Loomshuttle::Rings::ClockPage do
    it "tells the newest frame, and nothing while no device is open or half is written" do
      page = described_class.create(path("clock"))
      expect(page.read).to be_nil
      format = Struct.new(:rate_hz, :block_frames, :lanes_in, :lanes_out).new(48_000, 1024, 32, 8)
      page.write(4096, 2, format, 5_000_000_000)
      expect(described_class.open(path("clock")).read).to have_attributes(frame: 4096, session: 2, rate_hz: 48_000, block_frames: 1024, lanes_in: 32, lanes_out: 8, mono_s: 5.0)
      File.open(path("clock"), "r+b") { |file| file.pwrite("\x01", 3) }
      expect(page.read).to be_nil
      page.write(4096, 0, nil, 0)
      expect(page.read).to be_nil
    end

    it "is never taken for a missing device while another process writes it" do
      page = described_class.create(path("clock"))
      format = Struct.new(:rate_hz, :block_frames, :lanes_in, :lanes_out).new(48_000, 1024, 32, 8)
      page.write(0, 1, format, 0)
      writer = fork { loop { page.write(rand(2**40), 1, format, rand(2**40)) } }
      other = described_class.open(path("clock"))
      expect(Array.new(20_000) { other.read }.count(nil)).to eq(0)
    ensure
      Process.kill("KILL", writer) && Process.wait(writer)
    end
  end
end
