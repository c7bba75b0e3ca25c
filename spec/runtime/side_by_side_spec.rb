# frozen_string_literal: true

require "core_helper"
require "timeout"
require_relative "../../boot/runtime"

RSpec.describe Loomshuttle::Runtime::SideBySide do
  def alive?(pid) = File.directory?("/proc/#{pid}")

  it "answers in the order of the items, from other processes, however many there are" do
    [0, 1, 2, 3, 7, 20].product([1, 2, 3]).each do |count, processes|
      answers = described_class.map((0...count).to_a, processes: processes) { |n| [n * n, Process.pid, "x" * 70_000] }
      expect(answers.map(&:first)).to eq((0...count).map { |n| n * n })
      expect(answers.map { |answer| answer[1] }.uniq.size).to eq((processes == 1 || count < 2) ? [count, 1].min : [count, processes].min)
      expect(answers.none? { |answer| answer[1] == Process.pid } || processes == 1 || count < 2).to be(true)
    end
  end

  it "raises what was raised there, and tells of one that ended without an answer" do
    expect {
      described_class.map([1, 2], processes: 2) { |n| (n == 1) ? raise(Loomshuttle::BadInput.new(field: "stem", value: "organ.wav", allowed: "a whole file")) : n }
    }.to raise_error(Loomshuttle::BadInput, /organ\.wav/) { |error| expect(error.field).to eq("stem") }
    expect { described_class.map([1, 2], processes: 2) { |n| (n == 1) ? exit!(3) : n } }.to raise_error(IOError, /without an answer/)
  end

  it "is broken off by its beat: nobody works on" do
    Dir.mktmpdir do |folder|
      beat = -> { raise Interrupt, "no more" if Dir.children(folder).size == 2 }
      expect {
        Timeout.timeout(30) { described_class.map([1, 2], processes: 2, beat: beat) { |n| File.write(File.join(folder, Process.pid.to_s), n.to_s).then { sleep } } }
      }.to raise_error(Interrupt)
      expect(Dir.children(folder).map { |pid| alive?(pid) }).to eq([false, false])
    end
  end

  it "leaves what the caller has open as it is" do
    read, write = IO.pipe
    write.write("kept")
    described_class.map([1, 2], processes: 2) { |n| n }
    write.write(" open")
    write.close
    expect(read.read).to eq("kept open")
  end
end
