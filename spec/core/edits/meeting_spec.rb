# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::Meeting do
  def places(before, after) = described_class.places(Loomshuttle::Edits::Put.between(after, before), Loomshuttle::Edits::Put.between(before, after))
  def meet?(one, other) = described_class.any?(places(show, one.apply(show)), places(show, other.apply(show)))
  def rows(cells) = edit("rows", rows: cells)

  it "is one place where both wrote the same field of the same thing" do
    expect(meet?(rows("list/row/1" => {name: "A"}), rows("list/row/1" => {name: "B"}))).to be(true)
    expect(meet?(rows("list/row/1" => {name: "A"}), rows("list/row/1" => {mic: "b"}))).to be(false)
    expect(meet?(rows("list/row/1" => {name: "A"}), rows("list/row/2" => {name: "B"}))).to be(false)
    expect(meet?(edit("plug", row: "list/row/1", socket: "desk/mic/20"), edit("plug", row: "list/row/1", socket: nil))).to be(true)
  end

  it "is one place where one takes out what the other writes in, whoever came first" do
    gone, written = rows("list/row/1" => nil), rows("list/row/1" => {notes: "by the door"})
    expect([meet?(gone, written), meet?(written, gone)]).to eq([true, true])
  end

  it "tells moving from writing" do
    moved = edit("move_rows", rows: ["list/row/5"], to: 1)
    expect(meet?(moved, rows("list/row/5" => {mic: "other"}))).to be(false)
    expect(meet?(moved, edit("move_rows", rows: ["list/row/5"], to: 3))).to be(true)
  end
end
