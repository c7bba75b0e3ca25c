# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Show::PlayingRole do
  waltz = "low-tide-waltz"
  let(:song) { show.library[waltz] }

  def lanes(show, role, song = "low-tide-waltz") = described_class.of(show, role, song).lanes
  def findings(show, rule) = Loomshuttle::Checks::All.findings(show).select { |one| one.rule == rule }
  def listeners(show, id) = Loomshuttle::Signal::Reach.listeners(show, id).map(&:name)

  it "is as the library says, then as the show does, then as one song does" do
    loud = show.with(roles: show.roles.merge("organ" => show.roles["organ"].with(gain_db: 3.0, fold_db: -4.5)))
    said = ->(other, id = waltz) { described_class.of(other, "organ", id).then { |one| [one.gain_db, one.fold_db, one.lanes] } }
    expect(said[loud]).to eq([3.0, -4.5, [29]])
    here = edit("role_terms", role: "organ", gain_db: -1).apply(loud)
    expect(said[here]).to eq([-1.0, -4.5, [29]])
    once = edit("role_terms", role: "organ", song: waltz, gain_db: -6, fold_db: -3, lanes: ["rec/lane-out/25", "rec/lane-out/26"]).apply(here)
    expect([said[once], said[once, nil]]).to eq([[-6.0, -3.0, [25, 26]], [-1.0, -4.5, [29]]])
    expect(said[edit("role_terms", role: "organ", song: waltz, gain_db: nil, fold_db: nil, lanes: nil).apply(once)]).to eq(said[here])
  end

  it "refuses lanes, levels and laws that there are not" do
    refused = {{lanes: ["rec/lane-out/25"]} => /lanes of one song/, {song: waltz, lanes: ["rec/track/1"]} => /a lane out that takes roles/,
               {song: waltz, lanes: ["rec/lane-out/25"] * 2} => /two that differ/, {gain_db: 13} => /-60.0 to 12.0 dB/, {fold_db: -5} => /-3.0, -4.5, -6.0/,
               {song: "no-song", gain_db: 1} => /a song of the set list/}
    refused.each { |fields, words| expect(edit("role_terms", role: "organ", **fields).apply(show).allowed).to match(words) }
    expect(edit("role_terms", role: "flute", gain_db: 1).apply(show).value).to eq("flute")
  end

  it "is carried by mixes that are laid, at their levels; nothing is carried by one that is not" do
    mixed = edit("mix", mix: "stream", name: "Stream", members: {"songs/role/organ" => 0, "songs/role/tide" => -3.5}).apply(show)
    expect(described_class.of(mixed, "tide").also).to eq([])
    laid = %w[25 26].reduce(mixed) { |now, lane| edit("connect", slot: "rec/lane-out/#{lane}", from: "songs/mix/stream").apply(now) }
    expect(described_class.of(laid, "tide").also).to eq([[%w[rec/lane-out/25 rec/lane-out/26], -3.5]])
    expect(Loomshuttle::Signal::Carried.of(laid, "rec/lane-out/25")).to eq("songs/mix/stream")
    expect(edit("remove_mix", mix: "stream").apply(laid).patch).to eq(show.patch)
    expect(edit("connect", slot: "rec/lane-out/25", from: "songs/mix/gone").apply(show).why).to include("mix that is gone")
  end

  it "leads the click through a mix to whoever hears that mix, and the mend takes it out again" do
    audience = listeners(show, "songs/role/organ")
    expect(audience).to include("Main PA")
    mixed = edit("mix", mix: "all", name: "All of it", members: {"songs/role/organ" => 0, "songs/role/click" => -10}).apply(show)
    laid = edit("connect", slot: "rec/lane-out/29", from: "songs/mix/all").apply(mixed)
    expect(findings(mixed, "click-reach")).to eq(findings(show, "click-reach"))
    found = findings(laid, "click-reach").find { |one| one.title.end_with?("Main PA") }
    expect([found.severity, found.what]).to match(["stop", /\AClick → mix All of it → .+ → Main PA\.\z/])
    expect(found.mend.label).to eq("Mend: take click out of All of it")
    after = found.mend.edit.apply(laid)
    expect([listeners(after, "songs/role/click"), listeners(after, "songs/role/organ")]).to eq([listeners(show, "songs/role/click"), audience])
    # Where a performer hears it in that mix alone, nothing is offered that would take it from him.
    alone = edit("clear", slot: "rec/lane-out/31").apply(laid)
    expect(findings(alone, "click-reach").find { |one| one.title.end_with?("Main PA") }.mend).to be_nil
  end

  it "finds the click that one song alone has on a lane of the audience" do
    planted = edit("role_terms", role: "click", song: waltz, lanes: ["rec/lane-out/29"]).apply(show)
    expect(findings(planted, "click-reach").map(&:title)).to include("Click reaches Main PA")
    clash = findings(planted, "lane-clash").first
    expect(clash.what).to include("In Low tide waltz click is on").and include("where organ is too")
    expect(clash.mend.edit.apply(planted).set_list).to eq(show.set_list)
    expect(findings(planted, "click-reach").first.mend.edit.apply(planted).set_list).to eq(show.set_list)
  end

  it "is drawn through its mixes, what the audience never hears apart" do
    mixed = edit("mix", mix: "all", name: "All of it", members: {"songs/role/tide" => 0, "songs/role/click" => -10}).apply(show)
    join = Loomshuttle::Edits::Join.between(mixed, "songs/mix/all", "rec/lane-out/29")
    loom = Loomshuttle::Screens::Loom.weave(join.apply(mixed), Loomshuttle::Screens::Looms.tracks(join.apply(mixed)))
    expect(loom[:strands].map { |strand| strand.values_at(:from, :to, :stitch) }).to include(
      ["songs/role/click", "songs/mix/all", "dash"], ["songs/role/tide", "songs/mix/all", "solid"],
      ["songs/mix/all", "rec/lane-out/29", "dash"]
    )
    expect(loom[:posts].map { |post| post[:title] }.first(3)).to eq(["Role", "Mix of roles", "Return lane"])
    in_mix = Loomshuttle::Edits::Join.between(mixed, "songs/mix/all", "songs/role/organ").apply(mixed)
    expect(in_mix.mixes["all"].members["songs/role/organ"]).to eq(0.0)
    expect(Loomshuttle::Edits::Join.apart(in_mix, "songs/role/organ", "songs/mix/all").apply(in_mix)).to eq(mixed)
  end

  it "is found on a lane that the audio device has not, by itself, in a mix and in one song; nothing is said where nobody knows" do
    found = ->(other, lanes_out) { Loomshuttle::Checks::DeviceLanes.findings(other, Loomshuttle::Checks::Facts.new(engine: {recording: nil, lanes_out: lanes_out})).map(&:what) }
    expect([found[show, 32], found[show, 31], found[show, nil], Loomshuttle::Checks::DeviceLanes.findings(show, Loomshuttle::Checks::Facts::NONE)]).to all(eq([]))
    expect(found[show, 29]).to eq(["Click and tide are on lane 30–31; the audio device plays 29 lanes."]).or eq(["Tide and click are on lane 30–31; the audio device plays 29 lanes."])
    mixed = show(edit("mix", mix: "band", name: "Band", members: {"songs/role/organ" => 0}), edit("connect", slot: "rec/lane-out/32", from: "songs/mix/band"),
      edit("role_terms", role: "tide", song: waltz, lanes: ["rec/lane-out/28"]))
    expect(found[mixed, 31]).to eq(["Organ is on lane 32; the audio device plays 31 lanes."])
  end

  it "says who hears a role twice, by itself and in a mix" do
    mixed = edit("mix", mix: "band", name: "Band", members: {"songs/role/organ" => 0, "songs/role/tide" => 0}).apply(show)
    expect(findings(mixed, "twice")).to eq([])
    laid = edit("connect", slot: "rec/lane-out/30", from: "songs/mix/band").apply(mixed)
    expect(findings(laid, "twice").map(&:what)).to include(match(/\ABand holds organ, and Main PA hears it beside it\.\z/))
  end

  it "stands in the show file, and lets go of gear that is gone" do
    codec = Loomshuttle::Shelf.show_file
    whole = show(edit("mix", mix: "band", name: "Band", members: {"songs/role/organ" => -2.5}, pair: false), edit("role_terms", role: "tide", gain_db: 1.5),
      edit("role_terms", role: "organ", song: waltz, lanes: ["rec/lane-out/25"], fold_db: -3))
    expect(codec.parse(Loomshuttle::Exchange::ShowFile.write(whole))).to eq(whole)
    without = edit("remove_device", id: "rec").apply(whole)
    expect(without.set_list[waltz].roles.transform_values(&:to_data)).to eq("organ" => {"fold_db" => -3})
    odd = JSON.parse(Loomshuttle::Exchange::ShowFile.write(whole)).tap { |data| data["mixes"][0]["members"] = {"songs/role/flute" => 0} }
    expect { codec.parse(JSON.generate(odd)) }.to raise_error(Loomshuttle::BadInput, /mixes\/band\/members.*flute.*organ, tide, click/m)
  end

  describe "two lanes only" do
    it "has click left and the music summed right, and nothing else" do
      two = edit("two_lanes", left: "rec/lane-out/31", right: "rec/lane-out/32").apply(show)
      expect(%w[organ tide click].to_h { |role| [role, [lanes(two, role), described_class.of(two, role).also]] }).to eq(
        "organ" => [[], [[["rec/lane-out/32"], 0.0]]], "tide" => [[], [[["rec/lane-out/32"], 0.0]]], "click" => [[31], []]
      )
      expect(findings(two, "unassigned-role")).to eq([])
    end
  end
end

RSpec.describe Loomshuttle::Checks::Shares do
  # Songs of so many roles each, on a show whose lanes are all taken but some.
  def planned(songs, free:)
    roles = (songs.flatten.uniq + %w[click]).to_h { |name| [name, Loomshuttle::Show::Role.new(name: name, hidden: name == "cue" || name == "click")] }
    library = songs.each_with_index.to_h do |names, at|
      stems = names.map { |name| Loomshuttle::Show::Stem.new(name: name, role: name, file: "#{name}.wav", sample_rate_hz: 48_000, frames: 48_000) }
      ["s#{at}", Loomshuttle::Show::Song.new(id: "s#{at}", title: "Song #{at}", bpm: nil, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 48_000, stems: stems)]
    end
    lanes = show.places(show.rig.devices["rec"], "lane-out")
    slots = show.patch.slots.reject { |slot, _| slot.include?("/lane-out/") }
    taken = lanes.drop(free).to_h { |slot| [slot, Loomshuttle::Patch::Pick.new(from: "rec/track/1", tap: nil, delay_ms: 0.0)] }
    show.with(roles: roles, library: library, set_list: library.keys.to_h { |id| [id, Loomshuttle::Show::Listed.new(song: id)] }, patch: show.patch.with(slots: slots.merge(taken)))
  end

  def crowded(show) = Loomshuttle::Checks::All.findings(show).find { |one| one.rule == "crowded" }

  it "lets those share that are in no song together, and never cue with music" do
    plan = planned([%w[bass keys cue], %w[bass strings], %w[keys choir bass]], free: 4)
    found = crowded(plan)
    expect(found.what).to eq("Bass, choir, cue, keys and strings want 5 lanes; 4 are free.")
    after = found.mend.edit.apply(plan)
    expect(after.mixes.values.map(&:roles)).to eq([%w[choir strings]])
    expect(Loomshuttle::Checks::All.findings(after).map(&:rule)).not_to include("unassigned-role", "crowded")
    expect(Loomshuttle::Show::PlayingRole.of(after, "cue").lanes.size).to eq(1)
  end

  it "has nothing to propose where click and cue alone have too few" do
    expect(crowded(planned([%w[cue keys]], free: 0)).mend).to be_nil
  end

  # Whatever the songs are: every role has an output afterwards, no private one shares, and what shares is no worse than what is left apart.
  it "settles every set that can be settled" do
    random = Random.new(12)
    15.times do
      names = %w[a b c d e f g h].first(random.rand(2..8))
      songs = Array.new(random.rand(1..6)) { [*names.select { random.rand < 0.5 }, *("cue" if random.rand < 0.3)] }.reject(&:empty?)
      next if songs.empty?

      free = random.rand(1..6)
      plan = planned(songs, free: free)
      wanted = songs.flatten.uniq
      next if wanted.include?("cue") && free < 2 && wanted.size > 1

      mend = (crowded(plan) || Loomshuttle::Checks::All.findings(plan).find { |one| one.rule == "unassigned-role" }).mend
      after = mend.edit.apply(plan)
      expect(after).to be_a(Loomshuttle::Show), "#{songs.inspect} #{free}: #{after.inspect[0, 300]}"
      expect(Loomshuttle::Checks::All.findings(after).map(&:rule) & %w[unassigned-role crowded]).to eq([]), songs.inspect
      expect(after.mixes.values.flat_map(&:roles)).not_to include("cue")
      used = after.patch.slots.count { |_, pick| pick.from.start_with?("songs/") }
      expect(used).to eq([wanted.size, free].min)
    end
  end
end
