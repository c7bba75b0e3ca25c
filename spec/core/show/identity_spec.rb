# frozen_string_literal: true

require "core_helper"

# Rows and tracks are the same whatever they are called and wherever they stand; only places of
# gear are their numbers.
RSpec.describe "Who is who in a show" do
  # The demo with ids that say nothing, in an order of their own.
  def scrambled(data = Loomshuttle::Demo.data)
    text = JSON.generate(data).gsub(%r{list/row/(\d+)}) { "list/row/x#{97 - $1.to_i}q" }
    plain = JSON.parse(text)
    plain["tracks"].each { |track| track["id"] = "track-#{track["id"].hash.abs.to_s(36)}" }
    Loomshuttle::Demo.show(plain)
  end

  def told(show) = Loomshuttle::Checks::All.findings(show).map { |finding| [finding.rule, finding.title, finding.what, finding.mend&.label] }
  def apart(show) = Loomshuttle::Exchange::ShowFile.data(show)

  it "says the same of a show whose ids say nothing" do
    other = scrambled
    expect(told(other)).to eq(told(planted))
    expect(Loomshuttle::Exchange::InputList.write(other)).to eq(Loomshuttle::Exchange::InputList.write(planted))
    expect([other, planted].map { |one| Loomshuttle::Exchange::Sheets.of(one).map { |sheet| sheet[:rows] } }.uniq.size).to eq(1)
    sentences = [other, planted].map { |one| one.rows.keys.map { |row| Loomshuttle::Signal::Trace.forward(one, row).sentence } }
    expect(sentences.uniq.size).to eq(1)
    plans = [other, planted].map { |one| Loomshuttle::Soundcheck::Swing.to_recorder(one) }
    expect(plans.map { |plan| [plan.proved, plan.edit.apply(plan.equal?(plans[0]) ? other : planted).patch.slots] }.uniq.size).to eq(1)
    expect([other, planted].map { |one| Loomshuttle::Capture::Session.new.tracks(one).map { |track| [track.name, track.file, track.lanes] } }.uniq.size).to eq(1)
  end

  it "keeps a row's plug, track, pair and acceptance when it moves, and touches that row alone" do
    accepted = edit("accept", key: "power:list/row/9", acceptance: {who: "", at: "now", digest: "x"}).apply(show)
    moved = edit("move_rows", rows: ["list/row/9"], to: 1).apply(accepted)
    expect(Loomshuttle::Show::Parts.touched(accepted, moved)).to eq(["rows/list/row/9"])
    expect(moved.rows.values.map { |row| [row.number, row.name] }.first(3)).to eq([[1, "Accordion"], [2, "Hurdy-gurdy"], [3, "Cimbalom L"]])
    expect([moved.patch, moved.tracks, moved.accepted, moved.scenes]).to eq([accepted.patch, accepted.tracks, accepted.accepted, accepted.scenes])
    expect(moved.rows["list/row/2"].pair).to eq("list/row/3")
  end

  it "takes a move back without what somebody else did to the rows that made room" do
    moved = edit("move_rows", rows: ["list/row/9"], to: 1).apply(show)
    back = Loomshuttle::Edits::Put.between(moved, show)
    theirs = edit("rename", id: "list/row/3", name: "Dulcimer R").apply(edit("move_rows", rows: ["list/row/12"], to: 5).apply(moved))
    after = Loomshuttle::Edits.from_h(JSON.parse(JSON.generate(back.to_data))).apply(theirs)
    expect(after.rows.values.map(&:name)).to eq(["Hurdy-gurdy", "Cimbalom L", "Dulcimer R", "Narrator", "Tuba", "Kick", "Snare", "Overhead L",
      "Overhead R", "Accordion", "Toy piano", "Foley table"])
    expect(after.rows.values.map(&:number)).to eq((1..12).to_a)
  end

  it "gives a row that comes back its number where that is free, and else the next" do
    gone = edit("rows", rows: {"list/row/4" => nil}).apply(show)
    back = Loomshuttle::Edits::Put.between(gone, show)
    expect(apart(back.apply(gone))).to eq(apart(show))
    taken = edit("rows", rows: {"list/row/saw" => {name: "Saw", number: 4}}).apply(gone)
    expect(back.apply(taken).rows.values.map { |row| [row.number, row.name] }.values_at(3, 12)).to eq([[4, "Saw"], [13, "Tuba"]])
  end

  # B15: equality of hashes hides their order.
  it "puts devices, cables, tracks and roles back in the order that they had" do
    gone = edit("remove_device", id: "rec").apply(show)
    lists = ->(one) { apart(one).slice(:devices, :cables, :rows, :tracks, :roles, :songs) }
    expect(lists[Loomshuttle::Edits::Put.between(gone, show).apply(gone)]).to eq(lists[show])
  end

  it "never gives an id twice" do
    ids = []
    10.times { ids << Loomshuttle::Ids.fresh("track-", "list/row/1", taken: ids) }
    expect(ids.uniq.size).to eq(10)
  end
end

RSpec.describe Loomshuttle::Show::Order do
  # The longest part of one order that stands in the other too, by trying all.
  def longest_common(before, after)
    (0..before.size).to_a.reverse.find { |size| before.combination(size).any? { |some| (after & some) == some } }
  end

  it "leads from any order to any other, and moves no more than it must" do
    random = Random.new(7)
    200.times do
      before = ("a".."h").to_a.sample(random.rand(8), random: random)
      after = ("a".."h").to_a.sample(random.rand(8), random: random)
      moves = described_class.moves(before, after)
      left = (before & after).to_h { |key| [key, 1] }.merge((after - before).to_h { |key| [key, 1] })
      expect(described_class.after(left, moves).keys).to eq(after), "#{before} to #{after} by #{moves}"
      expect(after.size - moves.size).to eq(longest_common(before, after))
    end
  end
end

RSpec.describe Loomshuttle::Exchange::Version1 do
  let(:codec) { Loomshuttle::Shelf.show_file }

  # The demo as the first version wrote it.
  let(:old) do
    plain = JSON.parse(Loomshuttle::Exchange::ShowFile.write(Loomshuttle::Soundcheck::Swing.to_recorder(show).edit.apply(show)))
    plain["rows"].each { |row| row.delete("number") }
    plain["tracks"].each { |track| track.delete("place") }
    plain["roles"].each { |role| role.delete("pair") }
    plain["songs"].each { |song| song["stems"].each { |stem| stem.delete("channels") } && song.delete("sections") }
    %w[set_list mixes role_terms].each { |part| plain.delete(part) }
    plain.merge("version" => 1, "check" => plain.delete("swung"))
  end

  it "is read: what was a row's id is its number too, a track's its place, and the swing is remembered" do
    read = codec.parse(JSON.generate(old))
    bare = show.with(library: show.library.transform_values { |song| song.with(sections: [].freeze) }.freeze)
    expect(read).to eq(Loomshuttle::Soundcheck::Swing.to_recorder(bare).edit.apply(bare))
    expect(JSON.parse(Loomshuttle::Exchange::ShowFile.write(read))["version"]).to eq(2)
  end

  it "is held against its own schema" do
    expect { codec.parse(JSON.generate(old.merge("swung" => {}))) }.to raise_error(Loomshuttle::BadInput, /loom-1\.schema\.json/)
  end

  it "undoes and redoes what was done then" do
    row = JSON.parse(JSON.generate(show.rows["list/row/4"].to_h)).except("number")
    inverse = {"kind" => "group", "edits" => [
      {"kind" => "put", "parts" => {"rows" => {"list/row/4" => row}, "check" => {"state" => {"home" => {}}}}, "order" => {"devices" => show.rig.devices.keys.reverse}}
    ]}
    back = Loomshuttle::Edits.from_h(described_class.edit(inverse)).apply(edit("rows", rows: {"list/row/4" => nil}).apply(show))
    expect([back.rows.keys, back.rig.devices.keys]).to eq([show.rows.keys, show.rig.devices.keys.reverse])
  end
end
