# frozen_string_literal: true

require "core_helper"
require "support/installation"
require_relative "../../boot/server"

# Lanes looked for at the desk, with the real deck, engine and desk: what is sent on a lane is heard in the desk's channel.
RSpec.describe "Line-up" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server")
    @installation.wait("the device") { @installation.engine(do: "status").dig("device", "state") == "running" }
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  after { api("post", "#{place}/sound", {lane: nil}) }

  def api(...) = @installation.api(...)
  def place = "#{@installation.show}/lineup"
  def lane(number) = api("get", place).last["lines"].find { |line| line["number"] == number }
  def deck = @installation.deck(do: "status")["playing"]

  # Lanes that sound now, by what the deck says of what it sends.
  def levels = deck.to_h["peak_dbfs"].to_a
  def level(lane) = levels.fetch(lane - 1, -150)
  def sounding = levels.each_with_index.filter_map { |level, at| at + 1 if level > -60 }

  it "sends on one lane, spoken or in beeps, as loud as was asked, and on the next one instead" do
    expect(api("post", "#{place}/sound", {lane: "rec/lane-out/29", kind: "beeps", level_dbfs: -30}).first).to eq(200)
    @installation.wait("lane 29 alone") { sounding == [29] }
    @installation.wait("its level") { (level(29) + 30).abs < 0.5 }
    api("post", "#{place}/sound", {lane: "rec/lane-out/31", kind: "spoken", level_dbfs: -20})
    @installation.wait("lane 31 alone") { sounding == [31] }
    @installation.wait("its level") { (level(31) + 20).abs < 0.5 }
    expect(deck["key"]).to eq("lineup/rec/lane-out/31")
    api("post", "#{place}/sound", {lane: nil})
    @installation.wait("silence") { deck.nil? }
  end

  it "is refused on a lane that takes no role, and while a song plays; silence stops no song" do
    refused = api("post", "#{place}/sound", {lane: "rec/lane-out/2"}).last["error"]
    expect(refused.values_at("field", "allowed")).to eq(["lane", (29..31).map { |number| "rec/lane-out/#{number}" }.join(", ")])
    api("post", "#{@installation.show}/songs/low-tide-waltz/play", {})
    expect(api("post", "#{place}/sound", {lane: "rec/lane-out/29"}).last["error"]["message"]).to include("stop it first")
    api("post", "#{place}/sound", {lane: nil})
    expect(deck["label"]).to eq("Low tide waltz")
    api("post", "/api/playing/stop", {})
    @installation.wait("silence") { deck.nil? }
  end

  it "is refused while a song is about to begin by itself" do
    deck = Struct.new(:next) { def ask(_) = {"playing" => nil, "next" => self.next} }
    waits = ->(coming) do
      Loomshuttle::Server::Actions::LineUp.new(lineups: nil, workspaces: nil, on_air: nil, running: nil, deck: deck.new(coming), sounds: nil).send(:refuse_busy)
    end
    expect { waits[{"label" => "The second", "key" => "song/2", "in_s" => 3.1}] }.to raise_error(Loomshuttle::BadInput, /The second.*about to begin/)
    expect([waits[nil], waits[{"label" => "The second", "key" => "song/2", "in_s" => nil}]]).to eq([nil, nil])
  end

  it "keeps what was heard where, for every page, until the lane carries another role" do
    said = api("post", "#{place}/tick", {lane: "rec/lane-out/30", right: false, where: "in the wedge"}).last
    expect(said["lines"].find { |line| line["number"] == 30 }["tick"]).to include("right" => false, "where" => "in the wedge")
    version = api("get", @installation.show).last["version"]
    api("post", "#{@installation.show}/edits", {version: version, label: "x", edit: {kind: "connect", slot: "rec/lane-out/30", from: "songs/role/organ"}})
    expect(lane(30)["tick"]).to be_nil
    api("post", "#{@installation.show}/undo", {version: version + 1})
    expect(lane(30)["tick"]).not_to be_nil
    expect(api("post", "#{place}/tick", {lane: "rec/lane-out/2", right: true}).first).to eq(422)
  end
end
