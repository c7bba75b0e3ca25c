# frozen_string_literal: true

require_relative "../boot/core"

module Loomshuttle
  # The demo show, "Lanterns over Saltmarsh": a travelling puppet-theatre band at the
  # Quayside Hall. Invented in every name. It starts with two planted mistakes: lanes 9-16
  # still take local sockets, and the click is sent to the livestream.
  module Demo
    module_function

    # name, short name, colour, stitch, group, microphone, stand, phantom, pair (row number of
    # the other side)
    ROWS = [
      ["Hurdy-gurdy", "Hurdy", "weld", "solid", "strings", "small condenser", "short boom", "yes"],
      ["Cimbalom L", "Cimb L", "woad", "double", "strings", "small condenser", "boom", "yes", 3],
      ["Cimbalom R", "Cimb R", "woad", "double", "strings", "small condenser", "boom", "yes", 2],
      ["Tuba", "Tuba", "walnut", "dash", "winds", "large dynamic", "tall boom", "no"],
      ["Kick", "Kick", "madder", "solid", "drums", "kick dynamic", "low stand", "no"],
      ["Snare", "Snare", "madder", "solid", "drums", "dynamic", "clip", "no"],
      ["Overhead L", "OH L", "madder", "double", "drums", "condenser", "tall boom", "yes", 8],
      ["Overhead R", "OH R", "madder", "double", "drums", "condenser", "tall boom", "yes", 7],
      ["Accordion", "Acc", "lichen", "solid", "keys", "clip condenser pair, mixed", "", "yes"],
      ["Toy piano", "Toy pno", "cochineal", "dash", "keys", "boundary", "", "yes"],
      ["Foley table", "Foley", "slate", "dot", "effects", "ribbon", "short boom", "never"],
      ["Narrator", "Narr", "indigo", "solid", "voice", "headset wireless", "", "no"]
    ].freeze
    BPM = 100
    SONG_BARS = 8
    SAMPLE_RATE_HZ = 48_000
    LENGTH_FRAMES = SONG_BARS * 4 * 60 * SAMPLE_RATE_HZ / BPM
    MIXES = {"desk/bus/1" => "Booth wedge", "desk/bus/2" => "Drummer", "desk/bus/5" => "Stream L", "desk/bus/6" => "Stream R",
             "desk/main/1" => "Main L", "desk/main/2" => "Main R"}.freeze

    # @return [Hash] in the shape of the show file
    def data
      {version: 2,
       name: "Lanterns over Saltmarsh",
       venue: "Quayside Hall",
       sample_rate_hz: SAMPLE_RATE_HZ,
       devices: devices,
       cables: cables,
       rows: rows,
       tracks: tracks,
       roles: [{name: "organ"}, {name: "tide"}, {name: "click", hidden: true}],
       names: MIXES,
       songs: songs,
       patch: patch}
    end

    # The same show without the two planted mistakes.
    def mended
      whole = data
      whole[:patch][:slots].merge!(block("desk/card-send", 9, "desk/aes50-a-in", 9))
      [5, 6].each { |bus| whole[:patch][:sends]["desk/channel/31"].delete("desk/bus/#{bus}") }
      whole
    end

    def devices
      gear [["desk", "Quay desk", "desk-32", SAMPLE_RATE_HZ, "leader"],
        ["box-a", "Box A", "stage-box-16x8", SAMPLE_RATE_HZ, "aes50"],
        ["rec", "Logbook", "recording-computer", SAMPLE_RATE_HZ, "interface"],
        ["pa", "Main PA", "main-pa", nil, nil],
        ["booth", "Booth wedge", "wedge", nil, nil],
        ["ears", "Drummer's in-ear", "in-ear", nil, nil],
        ["stream", "Livestream", "livestream", nil, nil]]
    end

    # @param given [Array<Array>] id, name, profile, rate, clock
    def gear(given) = given.map { |id, name, profile, rate, clock| {id: id, name: name, profile: profile, rate_hz: rate, clock: clock} }

    # @return [Array<Integer>] numbers of those that want phantom power
    def powered(players) = players.each.with_index(1).filter_map { |player, n| n if player[7] == "yes" }

    def cables
      [{a: "box-a/aes50", b: "desk/aes50-a", kind: "Cat 5e", length_m: 40}, {a: "desk/card", b: "rec/interface", kind: "USB", length_m: 3}]
    end

    def rows(players = ROWS)
      players.each.with_index(1).map do |(name, short, colour, stitch, group, mic, stand, phantom, pair), n|
        {id: "list/row/#{n}",
         number: n,
         name: name,
         short: short,
         colour: colour,
         stitch: stitch,
         group: group,
         kind: (name == "Narrator") ? "wireless" : "microphone",
         mic: mic,
         stand: stand,
         phantom: phantom,
         pair: pair && "list/row/#{pair}"}
      end
    end

    def tracks(players = ROWS)
      players.each.with_index(1).map { |(name), n| {id: "rec/track/#{n}", place: "rec/track/#{n}", name: name, row: "list/row/#{n}", armed: true} }
    end

    def songs
      [{id: "low-tide-waltz",
        title: "Low tide waltz",
        bpm: BPM,
        beats_per_bar: 4,
        sample_rate_hz: SAMPLE_RATE_HZ,
        length_frames: LENGTH_FRAMES,
        # Eight bars of its own.
        sections: [{id: "ebb", name: "Ebb", bar: 1, colour: "woad"}, {id: "turning", name: "Turning", bar: 4, colour: "madder"},
          {id: "flood", name: "Flood", bar: 5, colour: "weld"}],
        stems: [{name: "Marsh organ", role: "organ", file: "marsh organ.wav", sample_rate_hz: SAMPLE_RATE_HZ, frames: LENGTH_FRAMES},
          {name: "Tide drum", role: "tide", file: "tide drum.wav", sample_rate_hz: SAMPLE_RATE_HZ, frames: LENGTH_FRAMES}]}]
    end

    def patch
      {slots: slots,
       plugs: (1..12).to_h { |n| ["list/row/#{n}", "box-a/mic/#{n}"] },
       sends: sends,
       powered: powered(ROWS).map { |n| "box-a/mic/#{n}" }}
    end

    def slots
      [block("desk/channel", 1, "desk/aes50-a-in", 1),
        block("desk/channel", 9, "desk/aes50-a-in", 9),
        block("desk/channel", 17, "desk/mic", 1),
        block("desk/channel", 25, "desk/card-return", 25),
        block("desk/card-send", 1, "desk/aes50-a-in", 1),
        block("desk/card-send", 9, "desk/mic", 9),
        block("desk/card-send", 17, "desk/mic", 1),
        block("desk/card-send", 25, "desk/output", 1),
        block("rec/track", 1, "rec/lane-in", 1, 12),
        block("rec/lane-out", 1, "rec/track", 1, 12),
        outputs,
        {"rec/lane-out/29" => {from: "songs/role/organ"},
         "rec/lane-out/30" => {from: "songs/role/tide"},
         "rec/lane-out/31" => {from: "songs/role/click"}}].reduce(:merge)
    end

    # Main and stream leave by the desk, the booth and the drummer by the box.
    def outputs
      mixes = {1 => "desk/main/1", 2 => "desk/main/2", 3 => "desk/bus/5", 4 => "desk/bus/6", 9 => "desk/bus/1", 10 => "desk/bus/2"}
      [mixes.to_h { |n, mix| ["desk/output/#{n}", {from: mix, tap: "post-fader"}] },
        block("desk/out-socket", 1, "desk/output", 1, 4),
        block("desk/aes50-a-out", 1, "desk/output", 9),
        {"pa/in/1" => {from: "desk/out-socket/1"},
         "pa/in/2" => {from: "desk/out-socket/2"},
         "stream/in/1" => {from: "desk/out-socket/3"},
         "stream/in/2" => {from: "desk/out-socket/4"},
         "booth/in/1" => {from: "box-a/out-socket/1"},
         "ears/in/1" => {from: "box-a/out-socket/2"}}].reduce(:merge)
    end

    def sends
      stage = (1..12).to_h { |n| ["desk/channel/#{n}", mix(%w[bus/5 bus/6 main/1 main/2], -9).merge(mix(%w[bus/1], -12))] }
      music = [29, 30].to_h { |n| ["desk/channel/#{n}", mix(%w[bus/1 bus/2 bus/5 bus/6 main/1 main/2], -6)] }
      stage.merge(music, "desk/channel/31" => mix(%w[bus/1 bus/2], 0).merge(mix(%w[bus/5 bus/6], -6)))
    end

    def mix(names, level_db)
      names.to_h { |name| ["desk/#{name}", {tap: name.start_with?("bus/1", "bus/2") ? "pre-fader" : "post-fader", level_db: level_db}] }
    end

    def block(slot, first, source, source_first, count = 8)
      (0...count).to_h do |i|
        ["#{slot}/#{first + i}", {from: "#{source}/#{source_first + i}", tap: source.include?("track") ? nil : "raw"}.compact]
      end
    end

    # @return [Show]
    def show(whole = data) = Shelf.show_file.parse(JSON.generate(whole))
  end
end
