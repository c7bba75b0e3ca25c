# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Capture::Pairs do
  def offered(*names, paired: nil)
    rows = names.each_with_index.to_h { |name, i| ["list/row/#{i}", Loomshuttle::Capture::Row.new(id: "list/row/#{i}", number: i + 1, name: name, pair: (paired if name == paired))] }
    described_class.offered(rows).map { |offer| [*offer.rows.map { |id| rows[id].name }, offer.sure] }
  end

  it "offers names that differ in their side alone, whichever comes first and however it is set off" do
    expect(offered("Overhead R", "Kick", "Overhead L", "keys left", "Keys RIGHT", "OH_L", "OH-R", "Organ (L)", "Organ (R)", "Left harp", "Right harp")).to eq([
      ["Overhead L", "Overhead R", true], ["keys left", "Keys RIGHT", true], ["OH_L", "OH-R", true], ["Organ (L)", "Organ (R)", true], ["Left harp", "Right harp", true]
    ])
  end

  it "offers 1 and 2 with less confidence, and not where there is a third" do
    expect(offered("Keys 1", "Keys 2", "Tom 1", "Tom 2", "Tom 3", "Choir 12")).to eq([["Keys 1", "Keys 2", false]])
  end

  it "offers no side alone, no name twice, nothing that has a pair, no letter that ends a word" do
    expect(offered("Overhead L", "Drum L", "Drum L", "Drum R", "Tuba", "Bell", "Car", "L", "R")).to eq([])
    expect(offered("Harp L", "Harp R", paired: "Harp L")).to eq([])
  end

  it "finds none in the demo, where all are paired" do
    expect(described_class.offered(show.rows)).to eq([])
  end
end

RSpec.describe Loomshuttle::Capture::Dyes do
  def rows(cells, from = show) = edit("rows", rows: cells.to_h { |row, columns| ["list/row/#{row}", columns] }).apply(from)
  def dye(row, from) = from.rows["list/row/#{row}"].then { |one| [one.colour, one.stitch] }

  it "gives a row of a group what the group has, a new group what no other has" do
    made = rows({13 => {name: "Floor tom", group: "drums"}, 14 => {name: "Gong", group: "metal"}, 15 => {name: "Bell", group: "metal"}, 16 => {name: "Alone"}})
    used = show.rows.values.reject { |row| row.group.empty? }.map { |row| [row.colour, row.stitch] }
    expect([dye(13, made), dye(15, made), dye(16, made)]).to eq([%w[madder solid], dye(14, made), %w[walnut solid]])
    expect(used).not_to include(dye(14, made))
  end

  it "keeps what somebody chose, in the same act or before" do
    chosen = rows({13 => {name: "Gong", group: "metal", colour: "slate", stitch: "dash"}, 14 => {name: "Bell", colour: "weld", stitch: "dot"}})
    expect([dye(13, chosen), dye(14, rows({14 => {group: "bells"}}, chosen))]).to eq([%w[slate dash], %w[weld dot]])
  end

  it "changes a group with one of its rows, and leaves a row that has its own" do
    changed = rows({5 => {colour: "indigo"}})
    expect((5..8).map { |row| dye(row, changed) }).to eq([%w[indigo solid], %w[indigo solid], %w[indigo double], %w[indigo double]])
    expect(dye(9, rows({12 => {colour: "weld"}}))).to eq(dye(9, show))
    apart = rows({5 => {colour: "weld"}, 6 => {colour: "slate"}})
    expect([5, 6, 7].map { |row| dye(row, apart).first }).to eq(%w[weld slate weld])
  end

  it "has dyes for more groups than colours" do
    many = rows((20..40).to_h { |n| [n, {name: "S#{n}", group: "g#{n}"}] })
    expect((20..37).map { |n| dye(n, many) }.uniq.size).to be >= 18 - 3
  end
end
