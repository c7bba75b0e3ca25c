# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::Edit do
  {
    ["shift", {slots: "x", by: 1}] => /edit.slots: "x" is not usable; shift takes a list of ids there/,
    ["shift", {slots: ["desk/channel/1"], by: 1.5}] => /edit.by: 1.5 is not usable; shift takes a whole number there/,
    ["connect", {slot: "desk/channel/1"}] => /edit.from: nil is not usable; connect needs it: an id/,
    ["connect", {slot: "desk/channel/1", from: "desk/mic/1", delay_ms: "soon"}] => /edit.delay_ms: "soon".*connect takes a number there/,
    ["send", {channel: "desk/channel/1", mix: "desk/bus/1", on: "yes"}] => /edit.on: "yes".*true or false/,
    ["lay", {takes: {"desk/channel/1" => "desk/mic/1"}}] => /edit.takes: .*an object of slots to \{from, tap, delay_ms\} or null/,
    ["restore", {slots: {"desk/channel/1" => {tap: "raw"}}}] => /edit.slots: .*each with a from/,
    ["recall", {scene: {lamps: {}}}] => /edit.scene: .*a scene's name or a patch/,
    ["recall", {scene: {slots: {"desk/channel/1" => {}}}}] => /edit.scene/,
    ["device", {id: "box-b", settings: {output_offset: "8"}}] => /edit.settings: .*names to whole numbers/,
    ["group", {edits: [1]}] => /edit.edits: .*a list of edits/,
    ["accept", {key: "x", acceptance: {who: 1, at: "", digest: ""}}] => /edit.acceptance/,
    ["lay", {takes: {"desk/channel/1" => {from: "songs/role/click"}}}] => /endpoint: "songs\/role\/click".*a numbered place/,
    ["run", {slot: "desk/channel/1", from: "songs/role/click", count: 2}] => /endpoint: "songs\/role\/click".*a numbered place/
  }.each do |(kind, fields), message|
    it("refuses #{kind} with #{fields}") { expect { edit(kind, **fields).apply(show) }.to raise_error(Loomshuttle::BadInput, message) }
  end

  it "tells all faults of an edit together, also those deep in a group" do
    expect { edit("connect", tap: 5, lamp: 1) }.to raise_error(Loomshuttle::BadInput) { |error|
      expect(error.faults.map(&:field)).to eq(%w[edit.slot edit.from edit.tap edit.lamp])
      expect(error.message).to include("edit.slot: nil is not usable; connect needs it: an id; edit.from:", "edit.lamp: 1 is not usable; connect has slot, from, tap, delay_ms")
    }
    deep = {"kind" => "group", "edits" => [{"kind" => "clear", "slot" => "desk/output/1"}, {"kind" => "plug"}]}
    expect { Loomshuttle::Edits.from_outside(deep) }.to raise_error(Loomshuttle::BadInput, %r{edit.edits/1.row: nil})
  end

  # B13: what the product makes for itself sets values without a question.
  %w[put restore remember accept].each do |kind|
    it "takes no #{kind} from outside, on its own or in a group" do
      inside = {"kind" => kind, "key" => "x", "parts" => {}, "slots" => {"desk/channel/1" => {"from" => "pa/in/1", "tap" => "bogus", "delay_ms" => 99_999}}}
      [inside, {"kind" => "group", "edits" => [inside]}, {"kind" => "group", "edits" => [{"kind" => "group", "edits" => [inside]}]}].each do |data|
        expect { Loomshuttle::Edits.from_outside(data) }.to raise_error(Loomshuttle::BadInput, /kind: "#{kind}" is not usable; one of about, arm, cable/)
      end
    end
  end

  it "stands in the contract as it is described here" do
    schemas = Loomshuttle::Shelf.api.dig("components", "schemas")
    described = Loomshuttle::Edits.schemas
    expect(schemas.slice(*described.keys)).to eq(described), "run: bundle exec ruby api/edits.rb"
    expect(schemas.keys.grep(/\AEdit[A-Z]/).reject { |name| name == "Edited" } - described.keys).to eq([])
  end

  it "says how long a run may be" do
    expect(edit("run", slot: "desk/output/1", from: "desk/bus/1", count: 0).apply(show).why).to eq("A run has 1 to 512 slots, not 0.")
  end
end
