# frozen_string_literal: true

require "core_helper"
require "open3"
require "support/wav_files"

RSpec.describe "bin/loomshuttle" do
  def run(*arguments) = Open3.capture3(File.join(Loomshuttle::ROOT, "bin/loomshuttle"), *arguments).then { |out, err, status| [out, err, status.exitstatus] }

  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:demo) { File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json") }

  def file(name, content) = File.join(@folder, name).tap { |path| File.binwrite(path, content) }

  it "checks a show: 1 for findings of severity stop, 0 without" do
    out, _, code = run("check", demo, "--json")
    expect([JSON.parse(out).map { |one| one["rule"] }, code]).to eq([%w[silent-lane click-reach], 1])
    expect(run("check", file("fine.loom.json", Loomshuttle::Exchange::ShowFile.write(show)))).to eq(["nothing found\n", "", 0])
  end

  it "traces both ways" do
    expect(run("trace", demo, "list/row/9").first).to start_with("Accordion goes Box A socket 9")
    out, _, code = run("trace", demo, "rec/track/1", "--back", "--json")
    expect([JSON.parse(out)["ends"], code]).to eq([[{"id" => "list/row/1", "why" => "a source of the input list"}], 0])
  end

  it "inspects files" do
    out, _, code = run("inspect", file("a.wav", WavFiles.pcm16([16_384, -16_384] * 100, channels: 2)), "--json")
    expect(JSON.parse(out).first).to include("container" => "WAV", "encoding" => "pcm", "sample_rate_hz" => 48_000, "bits" => 16, "channels" => 2, "frames" => 100, "bext" => nil,
      "track_names" => [], "markers" => [], "warnings" => [], "levels" => [{"peak_dbfs" => -6.02, "rms_dbfs" => -3.01, "clipped_runs" => 0}] * 2)
    expect(code).to eq(0)
  end

  it "says unusable input in one clear line, with exit code 2" do
    [["check", file("x.loom.json", "{")], ["trace", demo, "desk/channel/99"], ["inspect", file("x.wav", "no")], ["check", "/nowhere.json"]].each do |arguments|
      out, err, code = run(*arguments)
      expect([out, err.lines.size, code]).to eq(["", 1, 2])
    end
  end
end
