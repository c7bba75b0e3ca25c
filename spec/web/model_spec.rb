# frozen_string_literal: true

require "core_helper"
require "support/web_model"
require_relative "../../boot/server"

# What the screens compute by themselves of what the core and the server tell, and what these make of it: each case has
# the other side's own data. What needs no other side is specified in web/spec.
RSpec.describe "The web's model" do
  def rows(*names)
    names.each_with_index.map do |name, i|
      {id: "list/row/#{i + 1}",
       number: i + 1,
       name: name,
       short: "",
       kind: "microphone",
       mic: "",
       stand: "",
       phantom: "no",
       group: "",
       colour: "walnut",
       stitch: "solid",
       pair: nil,
       notes: "",
       safe: false,
       socket: nil,
       socket_label: nil,
       channels: [],
       powered: false}
    end
  end

  describe "levels that are wanted" do
    it "are understood by the server as they were meant" do
      random = Random.new(5)
      wanted = Array.new(100) { (1..40).to_a.sample(random.rand(1..40), random: random).sort }
      queries = WebModel.evaluate("levels", "given.map((lanes) => module.eventsQuery({rateHz: 20, lanes, desk: false}))", wanted)
      expect(queries.map { |query| Loomshuttle::Server::LevelsWanted.parse(rate_hz: "20", lanes: query[/lanes=(.*)/, 1], desk: nil).lanes }).to eq(wanted)
    end
  end

  describe "what is told of the state" do
    # Plain data made at random, with branches that come, go and are replaced.
    def random_data(random, depth = 3)
      return [nil, 1, "a", [1, 2], [{"x" => random.rand(3)}]].sample(random: random) if depth.zero? || random.rand < 0.3

      %w[a b c d].sample(random.rand(0..4), random: random).to_h { |key| [key, random_data(random, depth - 1)] }
    end

    def without_null(value) = value.is_a?(Hash) ? value.reject { |_, one| one.nil? }.transform_values { |one| without_null(one) } : value

    it "is the same in the page as in the server after any number of changes, but for what is gone" do
      random = Random.new(11)
      states = Array.new(300) { {"root" => random_data(random)} }
      changes = states.each_cons(2).map { |was, is| Loomshuttle::Server::Delta.between(was, is) }
      heard = WebModel.evaluate("liveState", "given[1].reduce((all, change) => [...all, module.heardState(all.at(-1), 'change', change)], [module.heardState(null, 'state', given[0])])", [states.first, changes])
      # An empty branch and one that holds only what is gone are the same to a reader.
      expect(heard.map { |state| without_null(state) }).to eq(states.map { |state| without_null(state) })
    end

    it "sends nothing of what is the same" do
      expect(Loomshuttle::Server::Delta.between({a: 1, b: {c: 2, d: [3]}}, {a: 1, b: {c: 4, d: [3]}})).to eq(b: {c: 4})
      expect(Loomshuttle::Server::Delta.between({a: nil}, {a: nil})).to eq({})
    end

    it "names lanes as they were asked for" do
      lists = [[], [1], [1, 2, 3], [1, 3, 4, 9]]
      frame = {meters: {"peak_dbfs" => [0.0] * 12, "held_dbfs" => [0.0] * 12, "clips" => [0] * 12}, deck: nil, desk: {peaks: nil}}
      texts = lists.map { |lanes| Loomshuttle::Server::LevelsWanted.new(rate_hz: 5, lanes: lanes).of(frame)[:lanes] }
      expect([texts, WebModel.evaluate("levels", "given.map(module.lanesIn)", texts)]).to eq([["", "1", "1-3", "1,3-4,9"], lists])
    end
  end

  describe "a field as a sheet" do
    let(:outputs) { JSON.parse(JSON.generate(Loomshuttle::Screens::FieldTable.of(show, "desk/output"))) }
    let(:channels) { JSON.parse(JSON.generate(Loomshuttle::Screens::FieldTable.of(show, "desk/channel"))) }

    it "has the columns that the field needs, and no others" do
      expect(WebModel.call("fieldTable", "columnsOf", outputs).map { |column| column["key"] }).to eq(%w[number takes arrives tap delay_ms name])
      expect(WebModel.call("fieldTable", "columnsOf", channels).map { |column| column["key"] }).to eq(%w[number block takes arrives name])
      expect(%w[number block takes arrives].map { |key| WebModel.call("fieldTable", "textOf", channels, 8, key) }).to eq(["9", "9–16", "Box A socket 9", "Accordion"])
    end

    it "makes edits of what is typed that the core applies: sources by label, taps, delays with a comma, freed slots" do
      typed = [{row: 0, key: "tap", value: "pre-fader"},
        {row: 0, key: "delay_ms", value: "12,5"},
        {row: 1, key: "takes", value: ""},
        {row: 8, key: "takes", value: "BUS 9"}]
      made = WebModel.call("fieldTable", "editOf", outputs, typed)["edit"]
      slots = Loomshuttle::Edits.from_h(made).apply(show).patch.slots
      expect([slots["desk/output/1"].tap,
        slots["desk/output/1"].delay_ms,
        slots["desk/output/2"],
        slots["desk/output/9"].from]).to eq(["pre-fader", 12.5, nil, "desk/bus/9"])
    end

    it "takes a mix by either of its two names" do
      from = ["Stream L", "bus 5", "stream l (BUS 5)"].map { |value|
        WebModel.call("fieldTable", "editOf", outputs, [{row: 8, key: "takes", value: value}]).dig("edit", "takes", "desk/output/9", "from")
      }
      expect(from).to eq(["desk/bus/5"] * 3)
    end

    it "says which slot cannot be written so" do
      expect(WebModel.call("fieldTable", "editOf", outputs, [{row: 2, key: "takes", value: "kettle"}])["fault"]).to start_with("Slot 3: \"kettle\" is nothing that it can take; one is called ")
      named = WebModel.call("fieldTable", "editOf", outputs, [{row: 2, key: "name", value: " Fill "}])["edit"]
      expect(named).to eq("kind" => "group", "edits" => [{"kind" => "rename", "id" => "desk/output/3", "name" => "Fill"}])
      expect(WebModel.call("fieldTable", "editOf", outputs, [{row: 2, key: "delay_ms", value: "soon"}])["fault"]).to eq("Slot 3: \"soon\" is no number of milliseconds.")
    end
  end

  describe "the sends to a mix as a sheet" do
    let(:wedge) { JSON.parse(JSON.generate(Loomshuttle::Screens::SendTable.of(show, "desk/bus/1"))) }
    let(:free) { JSON.parse(JSON.generate(Loomshuttle::Screens::SendTable.of(show, "desk/bus/9"))) }

    def send_after(table, typed, channel)
      made = WebModel.call("sendTable", "editOf", table, typed)["edit"]
      Loomshuttle::Edits.from_h(made).apply(show).patch.send_of(channel, table["mix"])
    end

    it "writes levels and taps, with a comma or a minus of any kind, and keeps the other" do
      expect(send_after(wedge, [{row: 0, key: "level_db", value: "−3,5"}], "desk/channel/1")).to have_attributes(level_db: -3.5, tap: "pre-fader")
      expect(send_after(wedge, [{row: 0, key: "tap", value: "post-fader"}], "desk/channel/1")).to have_attributes(level_db: -12.0, tap: "post-fader")
      expect(send_after(free, [{row: 4, key: "level_db", value: "0"}], "desk/channel/5")).to have_attributes(level_db: 0.0, tap: "post-fader")
    end

    it "takes a send off with an empty level, makes none by a tap alone, and says what is no level" do
      expect(send_after(wedge, [{row: 0, key: "level_db", value: ""}], "desk/channel/1")).to be_nil
      expect(send_after(free, [{row: 4, key: "tap", value: "pre-fader"}], "desk/channel/5")).to be_nil
      expect(WebModel.call("sendTable", "editOf", wedge, [{row: 0, key: "level_db", value: "loud"}])).to eq("fault" => "channel 1: \"loud\" is no level in dB.")
    end
  end

  describe "runs" do
    # Outputs 1 to 4 take main 1, main 2, bus 5, bus 6; what each kind makes of that.
    let(:laid) do
      takes = {"desk/main/1" => 1, "desk/main/2" => 2, "desk/bus/5" => 3, "desk/bus/6" => 4}
      takes.map { |from, slot| edit("connect", slot: "desk/output/#{slot}", from: from, tap: "post-fader") }.reduce(show) { |now, one| one.apply(now) }
    end

    {"shift" => [%w[5 6 7 8], %w[main/1 main/2 bus/5 bus/6]], "reverse" => [%w[1 2 3 4], %w[bus/6 bus/5 main/2 main/1]],
     "swap" => [%w[1 2 3 4], %w[bus/6 main/2 bus/5 main/1]],
     "tap" => [%w[1 2], %w[main/1 main/2]], "delay" => [%w[3 4], %w[bus/5 bus/6]], "free" => [%w[1 2 3 4], []]}.each do |kind, (slots, sources)|
      it "make an edit that the core applies: #{kind}" do
        run = {kind: kind, desk: "desk", field: "desk/output", first: 1, last: 4, by: 4, other: "desk/output", tap: "pre-fader", boxes: [], rows: [], computer: "rec"}
        after = Loomshuttle::Edits.from_h(WebModel.call("runs", "editOf", run)).apply(laid)
        takes = slots.map { |n| after.patch.slots["desk/output/#{n}"] }
        expect(takes.compact.map { |take| take.from.delete_prefix("desk/") }).to eq(sources)
        expect(takes.map { |take| take&.tap }.uniq).to eq(["pre-fader"]) if kind == "tap"
        expect(takes.map { |take| take&.delay_ms }.uniq).to eq([4.0]) if kind == "delay"
      end
    end

    it "make an edit that lets one field follow another" do
      run = {kind: "copy", field: "desk/card-send", other: "desk/channel", first: 1, last: 8}
      after = Loomshuttle::Edits.from_h(WebModel.call("runs", "editOf", run)).apply(planted)
      expect(rules(planted) - rules(after)).to eq(["silent-lane"])
    end

    {"open" => /cannot be opened on this model/, "close" => /cannot be opened on this model/, "soundcheck" => /raw already/, "mix" => /raw already/,
     "tracks" => /no track there yet/, "spread" => nil}.each do |kind, why|
      it "make an edit that the core knows: #{kind}" do
        run = {kind: kind, desk: "desk", field: "desk/card-send", first: 1, last: 8, by: 4, other: "desk/output", tap: "raw",
               boxes: ["box-a"], rows: show.rows.keys, computer: "rec"}
        after = Loomshuttle::Edits.from_h(WebModel.call("runs", "editOf", run)).apply(show)
        why ? expect(after).to(have_attributes(why: why)) : expect(after).to(be_a(Loomshuttle::Show))
      end
    end
  end

  describe "the sheet" do
    sockets = [{id: "box-a/mic/1", label: "Box A socket 1", short: "Box A 1"}]

    # What the sheet makes, the core takes.
    it "makes edits that the core applies" do
      made = WebModel.call("sheet",
        "editOf",
        rows("Hurdy-gurdy"),
        [{row: 0, key: "phantom", value: "never"}, {row: 0, key: "socket", value: ""}],
        sockets)["edit"]
      after = Loomshuttle::Edits.from_h(made).apply(show)
      expect([after.rows["list/row/1"].phantom, after.patch.plugs.key?("list/row/1")]).to eq(["never", false])
    end
  end

  describe "the loom" do
    let(:loom) { JSON.parse(JSON.generate(Loomshuttle::Screens::Loom.weave(planted, Loomshuttle::Screens::Looms.patch(planted)))) }

    it "lights a whole thread from any of its places, and what a waiting track listens to" do
      from_row, from_channel = %w[list/row/1 desk/channel/1].map { |id| WebModel.call("loom", "wholeThread", loom, id) }
      expect(from_row).to match_array(%w[list/row/1 box-a/mic/1 desk/channel/1 desk/card-send/1 rec/track/1])
      expect(from_channel).to include("list/row/1")
      expect(WebModel.call("loom", "threadAndMistakes", loom, "list/row/9")).to include("desk/mic/9", "rec/track/9")
    end

    it "knows a loom in which many threads meet in few places" do
      mixes = JSON.parse(JSON.generate(Loomshuttle::Screens::Loom.weave(show, Loomshuttle::Screens::Looms.mixes(show))))
      expect([loom, mixes].map { |one| WebModel.call("loom", "isDense", one) }).to eq([false, true])
    end

    it "knows where a thread lies and what could be taken off" do
      joined = ->(one, other) { WebModel.call("loom", "areJoined", loom, one, other) }
      expect([joined["list/row/1", "box-a/mic/1"],
        joined["desk/channel/1", "box-a/mic/1"],
        joined["list/row/1", "desk/channel/1"]]).to eq([true, true, false])
      expect(%w[desk/channel/1 list/row/1 desk/mic/30].map { |id| WebModel.call("loom", "comesToIt", loom, id) }).to eq([true, true, false])
    end

    it "folds what is unused, but not what is unfolded or what an edit would lay" do
      folded = WebModel.evaluate("loom", "module.quietPlaces(given[0], 16)", [loom])
      expect(folded).to include("desk/channel/20", "rec/track/40")
      expect(folded).not_to include("desk/channel/9", "desk/mic/9")
      ghost = [{from: "box-a/mic/1", to: "desk/channel/20", row: "list/row/1"}]
      expect(WebModel.evaluate("loom",
        "module.quietPlaces(given[0], 16, new Set(['track']), given[1])",
        [loom, ghost])).not_to include("desk/channel/20", "rec/track/40")
    end

    it "lays posts side by side and places in number order, closer where there are more" do
      placed = WebModel.evaluate("loom",
        "[...module.layOut(given[0], 900, 19, new Set()).placed.values()].map(({x, y, knot}) => [knot.id, x, y])",
        [loom])
      one, two, track = %w[list/row/1 list/row/2 rec/track/1].map { |id| placed.assoc(id) }
      expect([two[2] - one[2], one[1] == two[1], track[1] > one[1], track[2]]).to eq([19, true, true, one[2]])
      expect([8, 20, 30].map { |count|
        WebModel.evaluate("loom",
          "module.rowHeightFor({posts: [{knots: Array.from({length: given[0]}, (_, id) => ({id}))}]}, new Set())",
          [count])
      }).to eq([27, 22, 19])
    end

    it "leads arrows to the neighbour, and nowhere at an edge" do
      step = ->(id, key) {
        WebModel.evaluate("loom",
          "module.neighbour(given[0], module.layOut(given[0], 900, 19, new Set()), given[1], given[2])",
          [loom, id, key])
      }
      expect([step["list/row/1", "ArrowDown"],
        step["list/row/1", "ArrowRight"],
        step["list/row/1", "ArrowLeft"],
        step["list/row/1", "ArrowUp"]]).to eq(%w[list/row/2 box-a/mic/1 list/row/1 list/row/1])
    end
  end

  describe "the rig's map" do
    let(:chained) do
      show(edit("device", id: "box-b", profile: "stage-box-16x8", name: "Box B", clock: "aes50"), edit("cable", a: "box-b/aes50", b: "box-a/chain"))
    end
    let(:rig) { JSON.parse(JSON.generate(Loomshuttle::Server::Views::Rig.of(chained))) }

    it "stands boxes left of desks, a chain under each other, computers and listeners to the right; no card on another" do
      spots = WebModel.call("rig", "layOutRig", rig).to_h
      expect([spots["box-a"]["x"], spots["box-b"]["x"]].uniq).to eq([0])
      expect(spots["box-b"]["y"]).to be > spots["box-a"]["y"]
      expect([spots["desk"], spots["rec"]].map { |spot| spot["x"] }).to eq([spots["desk"]["x"], spots["pa"]["x"]])
      expect(spots.values.uniq.size).to eq(rig["devices"].size)
    end

    it "gives each desk a band of its own, the heads of two chains beside each other, and keeps what is loose for the end" do
      shared = [edit("device", id: "monitors", profile: "desk-32", name: "Monitors", clock: "aes50-b"),
        edit("device", id: "box-m", profile: "stage-box-16x8", name: "Box M", clock: "aes50"),
        edit("cable", a: "box-m/aes50", b: "monitors/aes50-a"),
        edit("device", id: "box-z", profile: "stage-box-16x8", name: "Box Z"),
        edit("device", id: "box-y", profile: "stage-box-16x8", name: "Box Y", clock: "aes50"),
        edit("cable", a: "box-y/aes50", b: "desk/aes50-b")].reduce(chained) { |now, one| one.apply(now) }
      spots = WebModel.call("rig", "layOutRig", JSON.parse(JSON.generate(Loomshuttle::Server::Views::Rig.of(shared)))).to_h
      at = ->(*ids) { ids.map { |id| spots[id].values_at("x", "y") } }
      boxes, (desk, monitors) = at["box-b", "box-a", "box-y"], at["desk", "monitors"]
      expect(boxes).to eq(boxes.sort)
      expect(boxes.map(&:first).uniq).to eq([0])
      expect([desk, monitors[0] == desk[0], spots["box-m"]["y"] == monitors[1]]).to eq([[330, boxes[1][1]], true, true])
      expect(monitors[1]).to be > [boxes.last[1], spots["stream"]["y"]].max
      expect(spots["box-z"]["y"]).to be > monitors[1]
      expect(spots.values.uniq.size).to eq(shared.rig.devices.size)
    end

    it "stands who listens at a box alone under that box" do
      spots = WebModel.call("rig", "layOutRig", rig).to_h
      %w[booth ears].each { |id| expect(spots[id]).to include("x" => 24, "y" => be_between(spots["box-a"]["y"], spots["box-b"]["y"])) }
      expect([spots["pa"], spots["stream"]].map { |spot| spot["x"] }.uniq).to eq([spots["rec"]["x"]])
    end

    it "says lanes in use each way" do
      expect(WebModel.call("rig", "lanesText", rig["cables"].first)).to eq("12 + 2 of 48")
      expect(WebModel.call("rig", "portName", rig, "box-b/aes50")).to eq("Box B, AES50")
    end
  end
end
