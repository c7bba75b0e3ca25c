# frozen_string_literal: true

require "core_helper"
require "support/web_model"
require_relative "../../boot/server"

# What the screens compute by themselves, without a browser.
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
    it "are asked for once for all who look at them" do
      wanted = [{rateHz: 20, lanes: [3, 1, 2], desk: false}, {rateHz: 5, lanes: [2, 9], desk: true}]
      expect(WebModel.call("levels", "eventsQuery", WebModel.call("levels", "together", wanted))).to eq("?rate_hz=20&lanes=1-3,9&desk=true")
      expect(WebModel.call("levels", "eventsQuery", {rateHz: 20, lanes: [], desk: false})).to eq("?rate_hz=20")
      expect([WebModel.call("levels", "together", []), WebModel.call("levels", "eventsQuery", nil)]).to eq([nil, ""])
    end

    it("stand at their lane's place") { expect(WebModel.call("levels", "byLane", [2, 4], [-3, -6])).to eq([nil, -3, nil, -6]) }

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

    it "keeps levels that are told seldom as long as they are of the same lanes" do
      heard = ->(*all) { WebModel.evaluate("liveState", "given.reduce((known, said) => module.heardLevels(known, said), null)", all) }
      expect(heard[{lanes: "1-2", peak_dbfs: [-1, -2], clips: [0, 3]}, {lanes: "1-2", peak_dbfs: [-5, -6]}]).to eq("lanes" => "1-2", "peak_dbfs" => [-5, -6], "clips" => [0, 3])
      expect(heard[{lanes: "1-2", peak_dbfs: [-1, -2], clips: [0, 3]}, {lanes: "7", peak_dbfs: [-5]}]).to eq("lanes" => "7", "peak_dbfs" => [-5])
    end

    it "names lanes as they were asked for" do
      lists = [[], [1], [1, 2, 3], [1, 3, 4, 9]]
      frame = {meters: {"peak_dbfs" => [0.0] * 12, "held_dbfs" => [0.0] * 12, "clips" => [0] * 12}, deck: nil, desk: {peaks: nil}}
      texts = lists.map { |lanes| Loomshuttle::Server::LevelsWanted.new(rate_hz: 5, lanes: lanes).of(frame)[:lanes] }
      expect([texts, WebModel.evaluate("levels", "given.map(module.lanesIn)", texts)]).to eq([["", "1", "1-3", "1,3-4,9"], lists])
    end
  end

  describe "a sheet of cells" do
    columns = [{key: "number", title: "No.", width: 50, fixed: true},
      {key: "name", title: "Name", width: 90, needed: true},
      {key: "stand", title: "Stand", width: 90},
      {key: "power", title: "48 V", width: 50, choices: %w[yes no]},
      {key: "socket", title: "Socket", width: 90, counts: true}]

    # Cells as the model asks for them.
    def with_cells(script, cells, *arguments)
      WebModel.evaluate("grid", script, [{columns: cells.first.keys.map { |key| {key: key} }, cells: cells}, *arguments])
    end

    {"a\tb\r\nc\td\r\n" => [%w[a b], %w[c d]],
     "\"two\nlines\"\t\"say \"\"hi\"\"\"" => [["two\nlines", "say \"hi\""]],
     "" => [[""]],
     "1\t\t3" => [["1", "", "3"]]}.each do |clip, cells|
      it("reads a spreadsheet's clipboard: #{clip.inspect}") { expect(WebModel.call("grid", "parseClipboard", clip)).to eq(cells) }
    end

    it "gives a spreadsheet what it reads back the same" do
      cells = [{name: "Kick, in", notes: "two\nlines"}, {name: "Say \"hi\"", notes: ""}]
      clip = with_cells("module.toClipboard(given[0].columns, given[1], (row, key) => given[0].cells[row][key])",
        cells,
        {top: 0, bottom: 1, left: 0, right: 1})
      expect(WebModel.call("grid", "parseClipboard", clip)).to eq(cells.map(&:values))
    end

    {["ArrowDown", false] => [1, 1],
     ["ArrowUp", false] => [0, 1],
     ["Enter", true] => [0, 1],
     ["Tab", false] => [0, 2],
     ["Tab", true] => [0, 0],
     ["End", false] => [0, 14],
     ["PageDown", false] => [4, 1]}.each do |(key, shift), (row, column)|
      it("moves by #{key}#{" with shift" if shift}, never off the sheet") do
        expect(WebModel.call("grid", "moved", {row: 0, column: 1}, key, shift, 5, 15)).to eq("row" => row, "column" => column)
      end
    end

    it "fills a selection with one pasted cell, and passes over what cannot be written" do
      expect(WebModel.call("grid", "pasted", columns, [["x"]], {top: 0, bottom: 1, left: 0, right: 1})).to eq([{"row" => 0, "key" => "name", "value" => "x"}, {"row" => 1, "key" => "name", "value" => "x"}])
      expect(WebModel.call("grid",
        "pasted",
        columns,
        [%w[1 Kick], %w[2 Snare]],
        {top: 2, bottom: 2, left: 0, right: 0}).map { |cell| cell.values_at("row", "value") }).to eq([[2, "Kick"], [3, "Snare"]])
      expect(WebModel.call("grid", "cleared", columns, {top: 0, bottom: 0, left: 0, right: 4}).map { |cell| cell["key"] }).to eq(%w[stand socket])
    end

    it "fills down: what stands on top is repeated, places count on" do
      filled = WebModel.evaluate("grid",
        "module.filledDown(given[0], given[1], (_row, key) => ({number: '1', name: 'Kick 1', stand: 'boom', power: 'yes', socket: 'Box A socket 9'})[key])",
        [columns, {top: 0, bottom: 2, left: 0, right: 4}])
      expect(filled.select { |cell| cell["row"] == 2 }
        .to_h { |cell| cell.values_at("key", "value") }).to eq("name" => "Kick 1", "stand" => "boom", "power" => "yes", "socket" => "Box A socket 11")
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

  it "says what the taps that are offered hold, in signal order" do
    expect(WebModel.call("taps", "tapsInWords", %w[post-fader raw])).to eq("raw: the socket alone, for soundcheck; post-fader: as in the mix, every fader move")
  end

  describe "runs" do
    it "begin at the eight around the place that was pointed at, where that is a slot" do
      fields = [{name: "desk/channel"}, {name: "desk/output"}]
      expect(WebModel.call("runs", "blockAt", fields, "desk/output/11", "desk/channel")).to eq("field" => "desk/output", "first" => 9)
      expect([nil, "list/row/3"].map { |place| WebModel.call("runs", "blockAt", fields, place, "desk/channel")["first"] }).to eq([1, 1])
      expect(WebModel.call("runs", "slotsOf", "desk/output", 3, 4)).to eq(%w[desk/output/3 desk/output/4])
    end

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

  # U3: a tap that is typed is the tap that is kept.
  it "takes a choice as it is typed, or the only one that begins so" do
    taps = %w[raw pre-eq pre-fader post-fader]
    typed = {"post-fader" => "post-fader", "PRE-EQ" => "pre-eq", "r" => "raw", "po" => "post-fader", "pre" => "pre", "" => "", "lamp" => "lamp"}
    expect(typed.keys.to_h { |text| [text, WebModel.call("grid", "chosen", taps, text)] }).to eq(typed)
  end

  describe "the sheet" do
    sockets = [{id: "box-a/mic/1", label: "Box A socket 1", short: "Box A 1"}]

    it "makes one edit of what was typed: cells, plugs by their label or short name, new rows with the next number" do
      typed = [{row: 0, key: "name", value: " Kick\n drum "},
        {row: 0, key: "socket", value: "box a 1"},
        {row: 1, key: "safe", value: "yes"},
        {row: 1, key: "pair", value: "1"},
        {row: 3, key: "mic", value: "ribbon"}]
      # A gap is kept, so the row says its number; one that follows the list is numbered where it is written.
      made = WebModel.call("sheet", "editOf", rows("A", "B"), typed, sockets)["edit"]
      fresh = made["edits"][0]["rows"].keys.last
      next_row = WebModel.call("sheet", "editOf", rows("A"), [{row: 1, key: "name", value: "B"}], sockets)["edit"]["edits"][0]["rows"].values
      expect(next_row).to eq([{"name" => "B"}])
      expect(made).to eq("kind" => "group", "edits" => [
        {"kind" => "rows", "rows" => {"list/row/1" => {"name" => "Kick drum"},
                                      "list/row/2" => {"safe" => true, "pair" => "list/row/1"},
                                      fresh => {"mic" => "ribbon", "name" => "New source", "number" => 4}}},
        {"kind" => "plug", "row" => "list/row/1", "socket" => "box-a/mic/1"}
      ])
      expect(fresh).to match(%r{\Alist/row/[a-z0-9]{12}\z})
    end

    it "pairs rows, and calls a group's colour by the group" do
      expect(WebModel.call("sheet", "pairsEdit", [%w[list/row/1 list/row/2]])).to eq("kind" => "rows", "rows" => {"list/row/1" => {"pair" => "list/row/2"}})
      words = ->(group, key) { WebModel.call("sheet", "writingOf", {group: group}, [{row: 0, key: key, value: "x"}], "Colour of Kick") }
      expect([words["drums", "colour"], words["drums", "name"], words["", "colour"]]).to eq(["Colour of the group drums", "Colour of Kick", "Colour of Kick"])
    end

    it "says which cell cannot be, and makes no edit then" do
      expect(WebModel.call("sheet", "editOf", rows("A"), [{row: 0, key: "socket", value: "Box Z 4"}], sockets)).to eq("fault" => "\"Box Z 4\" is no socket of this rig; one is called Box A socket 1.")
    end

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

    it "says what a thread is about at the end where no other ends, and in a dense loom only of what is lit" do
      strands = [%w[a x], %w[b x], %w[a y]].map { |from, to| {from: from, to: to, note: "#{from} to #{to}"} }
      ends = ->(some, lit, dense) { WebModel.call("loom", "noteEnds", some, lit, dense).map { |one| [one["strand"]["note"], one["at"]] } }
      expect(ends[strands, false, false]).to eq([["b to x", "b"], ["a to y", "y"]])
      expect(ends[strands.first(2), true, true]).to eq([["a to x", "a"], ["b to x", "b"]])
      expect(ends[strands, false, true]).to eq([])
      expect(ends[[{from: "a", to: "z", note: nil}], false, false]).to eq([])
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

  describe "what the history calls a run" do
    {{kind: "shift", first: 1, last: 8, by: 8} => "Move Quay desk: channel 1–8 by 8",
     {kind: "free", first: 9, last: 9} => "Free Quay desk: channel 9",
     {kind: "delay", first: 1, last: 2, by: 12.5} => "Delay Quay desk: channel 1–2 by 12.5 ms",
     {kind: "tracks", first: 1, last: 8} => "Make tracks of what arrives"}.each do |run, words|
      it("is #{words}") { expect(WebModel.call("runs", "wordsOf", run, "Quay desk: channel")).to eq(words) }
    end
  end

  describe "the faces of the patch" do
    it "call a loom by its desk where there are several" do
      names = [["patch", "desk", 1], ["mixes", "monitors", 2], ["sheet", "desk", 1], ["outputs", nil, 0]].map { |arguments| WebModel.call("patchFaces", "loomName", *arguments) }
      expect(names).to eq(%w[patch mixes@monitors patch outputs])
    end
  end

  describe "threads at labels" do
    let(:knot) { {id: "desk/channel/12", number: 12, label: "channel 12", name: nil, present: true, aside: false, row: nil, colour: nil, stitch: nil, pair: nil} }
    let(:at) { {x: 400, y: 50, post: 2, place: 11, knot: knot} }
    let(:on) { ->(from, placed) { WebModel.call("loom", "threadEnd", placed, {x: from}, 5)["x"] } }

    it "end before the label of a post in the middle, however long it is" do
      long = at.merge(knot: knot.merge(label: "Box A socket 12"))
      expect(on[100, at]).to be_within(0.1).of(400 - 14 - 2 * 6.6)
      expect(on[100, long]).to be < on[100, at]
    end

    it "end at the knot where the label stands elsewhere: first and last post, and coming from the right" do
      expect([on[100, at.merge(post: 0)], on[100, at.merge(post: 4)], on[700, at]]).to eq([400, 400, 400])
    end

    it "never end before they begin" do
      expect(on[395, at]).to eq(395)
    end
  end

  describe "what a finding shows" do
    {%w[desk/channel/5 desk/bus/7] => "mixes",
     %w[desk/channel/1 desk/card-send/1] => "patch",
     %w[list/row/9 desk/channel/9] => "patch",
     [] => "patch"}.each do |places, face|
      it("is seen on the loom #{face}: #{places.join(", ")}") { expect(WebModel.call("patchFaces", "faceFor", places)).to eq(face) }
    end

    it "is seen with the desk that it names" do
      desks = [{id: "desk"}, {id: "desk-2"}]
      expect([%w[list/row/1 desk-2/channel/1], %w[list/row/1]].map { |places| WebModel.call("patchFaces", "deskFor", places, desks) }).to eq(["desk-2", nil])
    end
  end

  describe "the rig's map" do
    it "has its columns as far apart as the frame has room, within what can be read" do
      expect([300, 800, 884, 2000].map { |width| WebModel.call("rig", "columnWidth", width) }).to eq([262, 280, 322, 330])
    end

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

  describe "formats" do
    {3725 => "01:02:05", 0 => "00:00:00", -3 => "00:00:00"}.each do |seconds, text|
      it("writes #{seconds} s as #{text}") { expect(WebModel.call("format", "clock", seconds)).to eq(text) }
    end
    {nil => "nothing armed", 90 => "1 min", 16_260 => "4 h 31 min", 400_000 => "111 h"}.each do |seconds, text|
      it("writes what is left, #{seconds.inspect} s, as #{text}") { expect(WebModel.call("format", "span", seconds)).to eq(text) }
    end
    {0 => "0 MB", 20 => "under 1 MB", 12_345_678 => "12 MB", 48_000_000_000 => "48.0 GB"}.each do |bytes, text|
      it("writes #{bytes} bytes as #{text}") { expect(WebModel.call("format", "weight", bytes)).to eq(text) }
    end
    {0.4 => "1 s", 80 => "80 s", 200 => "3 min"}.each do |seconds, text|
      it("writes #{seconds} s that are left as #{text}") { expect(WebModel.call("format", "duration", seconds)).to eq(text) }
    end
    {"Lanterns, 2nd night" => "7-lanterns-2nd-night", "Äbbe" => "7-abbe", "---" => "7"}.each do |name, slug|
      it("calls the show #{name} #{slug} in an address") { expect(WebModel.call("format", "slug", 7, name)).to eq(slug) }
    end
    {0 => "clipped", -3 => "hot", -20 => "good", -60 => "quiet"}.each do |dbfs, word|
      it("calls #{dbfs} dBFS #{word}") { expect(WebModel.call("format", "heat", dbfs)).to eq(word) }
    end
  end

  describe "a tapped tempo" do
    def tap(*times_ms) = WebModel.evaluate("tempo", "given.reduce((taps, at) => module.tapped(taps, at), [])", times_ms)

    it "is that of even taps, from the third on, and begins anew after a pause" do
      expect([[0, 500], [0, 500, 1000], tap(0, 500, 1000, 1500), tap(0, 500, 1000, 9000, 9400, 9800)].map { |taps|
        WebModel.call("tempo", "tempoOf", taps)
      }).to eq([nil, 120, 120, 150])
    end

    it "forgets an unsteady beginning" do
      expect(tap(*(0..20).map { |n| n * 400 }).size).to eq(12)
    end

    it "writes roles as the library does" do
      expect(["Lead Vox!", "Äö 1", "--"].map { |text| WebModel.call("format", "dashed", text) }).to eq(["lead-vox", "ao-1", ""])
    end
  end

  describe "the line check" do
    def row(number, state, at = nil) = {id: "list/row/#{number}", number: number, name: "Source #{number}", state: state, verdict: at && {at: at}}

    let(:check) {
      {turn: "list/row/2",
       rows: [row(1, "fine", "2026-11-26T18:00:02"), row(2, "wrong", "2026-11-26T18:00:09"), row(3, "again"), row(4, "skipped", "2026-11-26T18:00:05"), row(5, "open")]}
    }

    it "counts how all stand, and leaves out in words what there is none of" do
      counted = WebModel.call("linecheck", "counted", check[:rows])
      expect([counted, WebModel.call("linecheck", "countedWords", counted)]).to eq([{"fine" => 1, "wrong" => 1, "skipped" => 1, "open" => 2}, "1 proved · 1 to mend · 1 skipped · 2 open"])
      expect(WebModel.call("linecheck", "countedWords", WebModel.call("linecheck", "counted", [row(1, "fine")]))).to eq("1 proved")
    end

    it "knows whose turn it is, who was before, round the end too, and what was found last of the others" do
      expect([WebModel.call("linecheck", "turnOf", check)["number"], WebModel.call("linecheck", "before", check),
        WebModel.call("linecheck", "latest", check)["number"]]).to eq([2, "list/row/1", 4])
      expect(WebModel.call("linecheck", "before", check.merge(turn: "list/row/1"))).to eq("list/row/5")
    end

    it "chooses a fault for any two numbers, a swap with a neighbour, none where there is one source only" do
      chosen = [[0, 0], [0, 0.999], [0.999, 0.5], [1, 1]].map { |one, two| WebModel.call("linecheck", "chosenFault", check[:rows], one, two) }
      expect(chosen).to eq([{"kind" => "swap", "row" => "list/row/1", "other" => "list/row/2"}, {"kind" => "swap", "row" => "list/row/5", "other" => "list/row/4"},
        {"kind" => "lane", "row" => "list/row/3"}, {"kind" => "lane", "row" => "list/row/5"}])
      expect(WebModel.call("linecheck", "chosenFault", [row(1, "open")], 0, 0)).to be_nil
      expect([6, -3, 0].map { |db| WebModel.call("linecheck", "signedDb", db) }).to eq(["+6", "−3", "0"])
    end
  end
end
