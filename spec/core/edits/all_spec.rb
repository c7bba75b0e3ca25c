# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits do
  samples = {
    "connect" => {slot: "desk/channel/1", from: "desk/mic/1"},
    "clear" => {slot: "desk/card-send/20"},
    "run" => {slot: "desk/output/11", from: "desk/bus/7", count: 4},
    "open_block" => {slot: "desk/channel/1"},
    "restore" => {slots: {"desk/channel/1" => nil, "desk/channel/2" => {from: "desk/mic/5", tap: "raw"}}},
    "plug" => {row: "list/row/1", socket: "desk/mic/30"},
    "send" => {channel: "desk/channel/1", mix: "desk/bus/9", level_db: -3},
    "split" => {socket: "desk/mic/1"},
    "about" => {name: "Lanterns, second night", date: "2026-11-28"},
    "set_list" => {songs: []},
    "mix" => {mix: "band", name: "The band", members: {"songs/role/organ" => 0, "songs/role/tide" => -3}},
    "remove_mix" => {mix: "band"},
    "role_terms" => {role: "organ", gain_db: -2, fold_db: -3},
    "two_lanes" => {left: "rec/lane-out/31", right: "rec/lane-out/32"},
    "level_songs" => {target_lufs: -20},
    "listed" => {song: "low-tide-waltz", after: "wait", wait_s: 8, trim_db: -1.5, key: "D minor"},
    "furnish" => {profiles: %w[stage-box-16x8 wedge]},
    "run_through" => {desk: "desk", computer: "rec"},
    "arm" => {tracks: ["rec/track/1", "rec/track/2"], armed: false},
    "share_return" => {tracks: ["rec/track/4"], beside: "rec/track/3", sum_db: -6},
    "rename" => {id: "rec/track/3", name: "Cimbalom / right 🎻"},
    "device_rate" => {device: "rec", rate_hz: 44_100},
    "accept" => {key: "shared:x", acceptance: {who: "engineer", at: "2026-11-24T00:00:00Z", digest: "abc"}},
    "remember" => {home: {"desk/channel/1" => nil}, opened: [], keep: ["desk/channel/2"]},
    "group" => {edits: [{kind: "clear", slot: "desk/output/1"}, {kind: "plug", row: "list/row/2", socket: nil}]},
    "put" => {parts: {"slots" => {"desk/channel/1" => nil}, "names" => {"desk/bus/9" => "Lamp"}, "devices" => {"ears" => nil}}},
    "device" => {id: "box-b", profile: "stage-box-32x16", name: "Box B", clock: "aes50", settings: {"output_offset" => 8}},
    "remove_device" => {id: "box-a"},
    "cable" => {a: "desk/aes50-a", b: "box-a/aes50", length_m: 80.5},
    "remove_cable" => {a: "desk/card", b: "rec/interface"},
    "profile" => {name: "own-box", data: Loomshuttle::Shelf.profiles["stage-box-16x8"].to_data.merge("label" => "Own box")},
    "show_rate" => {rate_hz: 96_000},
    "turn" => {places: ["desk/channel/1", "desk/channel/2"]},
    "power" => {sockets: ["box-a/mic/5", "box-a/mic/7"]},
    "rows" => {rows: {"list/row/1" => {"name" => "Nyckelharpa", "phantom" => "yes"},
                      "list/row/13" => {"name" => "Saw"},
                      "list/row/3" => nil}},
    "move_rows" => {rows: ["list/row/2", "list/row/3"], to: 6},
    "shift" => {slots: (1..8).map { |n| "desk/channel/#{n}" }, by: 16},
    "reverse" => {slots: (1..4).map { |n| "desk/output/#{n}" }},
    "swap" => {one: "desk/channel/1", other: "desk/channel/9"},
    "copy_layout" => {from_field: "desk/channel", to_field: "desk/card-send"},
    "spread" => {rows: (1..12).map { |n| "list/row/#{n}" }, boxes: %w[desk box-a]},
    "retake" => {slots: ["desk/output/1"], delay_ms: 12.5},
    "scene" => {name: "Rehearsal"},
    "recall" => {scene: {slots: {"desk/output/1" => {from: "desk/bus/9", tap: "post-fader"}}}, fields: ["desk/output"]},
    "land" => {mix: "desk/main/1", sockets: ["desk/out-socket/1"]},
    "lay" => {takes: {"desk/output/1" => {from: "desk/bus/9", delay_ms: 4}, "desk/output/2" => nil}},
    "record_taps" => {desk: "desk", purpose: "mix"},
    "make_tracks" => {computer: "rec"},
    "record_mix" => {desk: "desk", computer: "rec"}
  }
  # Where the demo's gear has nothing that the edit is about.
  others = {"run_through" => -> { planted },
            "remove_mix" => -> {
              show(edit("mix", mix: "band", name: "The band", members: {"songs/role/organ" => 0}), edit("connect", slot: "rec/lane-out/28", from: "songs/mix/band"))
            },
            "level_songs" => -> { show.with(library: show.library.transform_values { |song| song.with(loudness_lufs: -23.0, true_peak_dbtp: -6.0) }.freeze) },
            "turn" => -> { hall("rack-20") },
            "cable" => -> { show(edit("remove_cable", a: "box-a/aes50", b: "desk/aes50-a")) },
            "copy_layout" => -> { planted },
            "record_taps" => -> { hall("rack-20") },
            "make_tracks" => -> { show.with(tracks: show.tracks.except("rec/track/4").freeze) }}

  samples.each do |kind, fields|
    describe kind do
      let(:one) { edit(kind, **fields) }
      let(:start) { others.key?(kind) ? instance_exec(&others[kind]) : show }

      it "changes the show; undo brings the very same show back, redo what was done" do
        after = one.apply(start)
        expect(after).not_to eq(start)
        expect(undo(one, start).apply(after)).to eq(start)
        expect(put(start, after).apply(start)).to eq(after)
      end

      it "goes to data and back" do
        again = described_class.from_h(JSON.parse(JSON.generate(one.to_data)))
        expect(again.apply(start)).to eq(one.apply(start))
      end
    end
  end

  it "covers every kind that it knows" do
    expect { edit("melt") }.to raise_error { |error| expect(error.allowed).to eq("one of #{samples.keys.sort.join(", ")}") }
  end

  it "does all of a group or nothing" do
    result = edit("group", edits: [{kind: "clear", slot: "desk/output/1"}, {kind: "clear", slot: "desk/output/99"}]).apply(show)
    expect(result).to be_a(Loomshuttle::Refusal)
  end

  it "names an unknown kind and a missing field" do
    expect { edit("melt") }.to raise_error(Loomshuttle::BadInput, /edit.kind: "melt" is not usable; one of about, accept, arm/)
    expect { edit("connect", slot: "desk/channel/1") }.to raise_error(Loomshuttle::BadInput, /edit.from.*connect needs it/)
  end

  # Property: no sequence of random edits leads to a show that its own file format
  # refuses or to a block out of line, and undoing them in order gives the first show back.
  it "stays valid over 250 random edits and undoes them all" do
    random = Random.new(20_261_124)
    first = show
    pick = ->(family, count) { "desk/#{family}/#{random.rand(1..count)}" }
    some = ->(family, count) {
      random.rand(1..count - 8).then do |from|
        (from...(from + random.rand(1..8))).map { |n| "desk/#{family}/#{n}" }
      end
    }
    row = -> { "list/row/#{random.rand(1..14)}" }
    kinds = [-> { edit("connect", slot: pick["channel", 32], from: pick["mic", 32]) },
      -> { edit("connect", slot: pick["card-send", 32], from: pick["aes50-a-in", 48]) },
      -> { edit("open_block", slot: pick["channel", 32], open: random.rand(2) == 1) },
      -> { edit("clear", slot: pick["output", 16]) },
      -> { edit("send", channel: pick["channel", 32], mix: pick["bus", 16], on: random.rand(2) == 1) },
      -> { edit("shift", slots: some["channel", 32], by: random.rand(-16..16)) },
      -> { edit("reverse", slots: some["output", 16]) },
      -> { edit("swap", one: pick["channel", 32], other: pick["channel", 32]) },
      -> { edit("copy_layout", from_field: "desk/channel", to_field: "desk/card-send") },
      -> { edit("plug", row: row[], socket: "box-a/mic/#{random.rand(1..16)}") },
      -> { edit("rows", rows: {row[] => (random.rand(4) == 0) ? nil : {name: "Source #{random.rand(99)}"}}) },
      -> { edit("move_rows", rows: [row[]], to: random.rand(1..12), follow: random.rand(2) == 1) },
      -> { edit("scene", name: "Scene #{random.rand(3)}", remove: random.rand(4) == 0) },
      -> { edit("recall", scene: "Scene #{random.rand(3)}", fields: [nil, ["desk/channel"], ["plugs", "sends"]].sample(random: random)) },
      -> { edit("power", sockets: ["box-a/mic/#{random.rand(1..20)}"], on: random.rand(2) == 1) },
      -> { edit("lay", takes: {pick["card-send", 32] => [nil, {from: "box-a/mic/#{random.rand(1..16)}"}].sample(random: random), pick["output", 16] => {from: pick["bus", 16]}}) },
      -> { edit("spread", rows: [row[], row[]].uniq, boxes: %w[box-a desk]) },
      -> { edit("run", slot: pick["output", 16], from: pick["bus", 16], count: random.rand(1..6)) },
      -> { edit("device", id: "box-#{%w[b c].sample(random: random)}", profile: "stage-box-16x8") },
      -> { edit("cable", a: "box-#{%w[b c].sample(random: random)}/aes50", b: ["box-a/chain", "desk/aes50-b"].sample(random: random)) },
      -> { edit("remove_device", id: "box-#{%w[b c].sample(random: random)}") }]
    undone = []
    last = (1..250).reduce(first) do |now, _|
      one = kinds.sample(random: random).call
      after = one.apply(now)
      next now if after.is_a?(Loomshuttle::Refusal)

      undone.unshift(undo(one, now))
      after
    end
    expect(undone.size).to be > 100
    expect(last.patch.slots.keys.reject { |slot| Loomshuttle::Patch::Block.in_line?(last, slot) }).to eq([])
    expect(Loomshuttle::Demo.show(JSON.parse(Loomshuttle::Exchange::ShowFile.write(last)))).to eq(last)
    expect(undone.reduce(last) { |now, one| one.apply(now) }).to eq(first)
  end
end
