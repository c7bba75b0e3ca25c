# frozen_string_literal: true

require_relative "lanterns"

module Loomshuttle
  module Demo
    # The second show of the demo: the same band with a choir and a few of the village's players, 34 lanes of a desk
    # that sends its channels to the recorder as they come in, behind what they listen to. So all that comes back from the
    # recorder can be heard, and the ping has its whole picture. Nothing is wrong in it: faults are the simulation's to hide.
    module Barn
      # As ROWS has them.
      GUESTS = [
        ["Choir high L", "Choir HL", "lichen", "double", "choir", "condenser", "tall boom", "yes", 14],
        ["Choir high R", "Choir HR", "lichen", "double", "choir", "condenser", "tall boom", "yes", 13],
        ["Choir low L", "Choir LL", "slate", "double", "choir", "condenser", "tall boom", "yes", 16],
        ["Choir low R", "Choir LR", "slate", "double", "choir", "condenser", "tall boom", "yes", 15],
        ["Fiddle", "Fiddle", "weld", "dash", "strings", "clip condenser", "", "yes"],
        ["Viola", "Viola", "weld", "dot", "strings", "clip condenser", "", "yes"],
        ["Cello", "Cello", "walnut", "solid", "strings", "clip condenser", "", "yes"],
        ["Double bass", "D bass", "walnut", "dot", "strings", "large dynamic", "foam in the bridge", "no"],
        ["Flute", "Flute", "woad", "solid", "winds", "small condenser", "boom", "yes"],
        ["Clarinet", "Clar", "woad", "dash", "winds", "small condenser", "boom", "yes"],
        ["Bassoon", "Bassoon", "indigo", "dash", "winds", "dynamic", "boom", "no"],
        ["Horn", "Horn", "indigo", "dot", "winds", "ribbon", "boom", "never"],
        ["Harmonium L", "Harm L", "cochineal", "double", "keys", "small condenser", "short boom", "yes", 26],
        ["Harmonium R", "Harm R", "cochineal", "double", "keys", "small condenser", "short boom", "yes", 25],
        ["Glockenspiel", "Glock", "cochineal", "solid", "keys", "small condenser", "boom", "yes"],
        ["Thunder sheet", "Thunder", "slate", "solid", "effects", "dynamic", "tall boom", "no"],
        ["Ferryman", "Ferry", "madder", "dot", "voice", "dynamic", "boom", "no"],
        ["Heron", "Heron", "madder", "dash", "voice", "dynamic", "boom", "no"],
        ["Barn L", "Barn L", "slate", "double", "room", "condenser", "tall boom", "yes", 32],
        ["Barn R", "Barn R", "slate", "double", "room", "condenser", "tall boom", "yes", 31]
      ].freeze
      # The cimbalom's two sides come first: this desk links an odd channel with the next.
      PLAYERS = [[*ROWS[1][0..-2], 2], [*ROWS[2][0..-2], 1], ROWS[0], *ROWS.drop(3), *GUESTS].freeze
      COUNT = PLAYERS.size
      MIXES = {"desk/bus/1" => "Choir wedge", "desk/bus/2" => "Players' wedge", "desk/main/1" => "Main L", "desk/main/2" => "Main R"}.freeze

      module_function

      # @return [Hash] in the shape of the show file
      def data
        {version: 2,
         name: "Lanterns with the choir",
         venue: "Barn behind the dyke",
         sample_rate_hz: SAMPLE_RATE_HZ,
         devices: devices,
         cables: [{a: "box-a/aes50", b: "desk/aes50-a", kind: "Cat 5e", length_m: 30}, {a: "desk/card", b: "rec/interface", kind: "USB", length_m: 3}],
         rows: Demo.rows(PLAYERS),
         tracks: Demo.tracks(PLAYERS) + ["Main L", "Main R"].map.with_index(COUNT + 1) { |name, n| {id: "rec/track/#{n}", place: "rec/track/#{n}", name: name, armed: true} },
         names: MIXES,
         patch: patch}
      end

      def devices
        Demo.gear [["desk", "Barn desk", "desk-48", SAMPLE_RATE_HZ, "leader"],
          ["box-a", "Box A", "stage-box-32x16", SAMPLE_RATE_HZ, "aes50"],
          ["rec", "Logbook", "recording-computer", SAMPLE_RATE_HZ, "interface"],
          ["pa", "Main PA", "main-pa", nil, nil],
          ["choir", "Choir wedge", "wedge", nil, nil],
          ["players", "Players' wedge", "wedge", nil, nil]]
      end

      def patch
        {slots: slots,
         plugs: (1..COUNT).to_h { |n| ["list/row/#{n}", "box-a/mic/#{n}"] },
         sends: (1..COUNT).to_h { |n| ["desk/channel/#{n}", Demo.mix(%w[main/1 main/2], -18).merge(Demo.mix([(13..16).cover?(n) ? "bus/1" : "bus/2"], -15))] },
         powered: Demo.powered(PLAYERS).map { |n| "box-a/mic/#{n}" }}
      end

      def slots
        [Demo.block("desk/channel", 1, "desk/aes50-a-in", 1, COUNT),
          Demo.block("desk/recorder-set", 1, "desk/card-return", 1, COUNT),
          (1..COUNT).to_h { |n| ["desk/card-send/#{n}", {from: "desk/channel/#{n}", tap: "in"}] },
          {"desk/card-send/33" => {from: "desk/main/1", tap: "post-fader"}, "desk/card-send/34" => {from: "desk/main/2", tap: "post-fader"}},
          Demo.block("rec/track", 1, "rec/lane-in", 1, COUNT + 2),
          Demo.block("rec/lane-out", 1, "rec/track", 1, COUNT),
          {"desk/out-socket/1" => {from: "desk/main/1", tap: "post-fader"},
           "desk/out-socket/2" => {from: "desk/main/2", tap: "post-fader"},
           "desk/aes50-a-out/1" => {from: "desk/bus/1", tap: "post-fader"},
           "desk/aes50-a-out/2" => {from: "desk/bus/2", tap: "post-fader"},
           "pa/in/1" => {from: "desk/out-socket/1"},
           "pa/in/2" => {from: "desk/out-socket/2"},
           "choir/in/1" => {from: "box-a/out-socket/1"},
           "players/in/1" => {from: "box-a/out-socket/2"}}].reduce(:merge)
      end
    end
  end
end
