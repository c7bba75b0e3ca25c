# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::Shape do
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
    ["run", {slot: "desk/channel/1", from: "songs/role/click", count: 2}] => /endpoint: "songs\/role\/click".*a numbered place/
  }.each do |(kind, fields), message|
    it("refuses #{kind} with #{fields}") { expect { edit(kind, **fields).apply(show) }.to raise_error(Loomshuttle::BadInput, message) }
  end

  it "knows every kind of edit" do
    kinds = Loomshuttle::Edits.send(:const_get, :KINDS).keys
    expect(kinds.map { |kind| described_class.send(:const_get, :FIELDS).key?(kind) }).to all(be(true))
  end

  it "says how long a run may be" do
    expect(edit("run", slot: "desk/output/1", from: "desk/bus/1", count: 0).apply(show).why).to eq("A run has 1 to 512 slots, not 0.")
  end
end
