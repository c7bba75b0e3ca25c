# frozen_string_literal: true

require_relative "../demo/lanterns"

module Bench
  # A generated show of any size: desks with boxes in chains, computers, a house, wedges and
  # in-ears; sources are plugged in, on channels, in mixes, on lanes and tracks.
  module LargeRig
    module_function

    # Places of each desk: an own profile, the largest shipped desk made wider.
    WIDER = {"channel" => 128, "recorder-set" => 128, "mic" => 32}.freeze
    private_constant :WIDER

    # @param desks [Integer] each with six boxes of 16 sockets and 32 sockets of its own
    # @param threads [Integer] sources that run from a socket to a channel and its mixes
    # @return [Loomshuttle::Show]
    def show(desks: 4, threads: 400, computers: 2)
      Loomshuttle::Demo.show(data(desks, threads, computers))
    end

    # One desk, box and channel rig, as often as `size` says, each copy with its own sources:
    # what grows is the number of places and joins, not their shape.
    def grown(size, threads)
      each = threads / size
      desks = (1..size).flat_map { |d|
        [device("desk-#{d}", "rack-20", (d == 1) ? "leader" : nil),
          {id: "pa-#{d}", name: "House #{d}", profile: "main-pa"},
          *Array.new(2) { |w| {id: "wedge-#{d}-#{w}", name: "Wedge #{d}.#{w}", profile: "wedge"} },
          device("rec-#{d}", "recording-computer", "interface")]
      }
      slots = {}
      plugs = {}
      sends = {}
      (1..size).each { |d| small(slots, plugs, sends, d, [each, 20].min) }
      rows = plugs.keys.map { |id| {id: id, name: "Source #{id[/\d+\z/]}"} }
      tracks = plugs.map { |row, socket|
        socket.split("/").then do |desk, _, n|
          {id: "#{desk.sub("desk", "rec")}/track/#{n}", name: "T#{n}", row: row, armed: true}
        end
      }
      Loomshuttle::Demo.show(version: 2,
        name: "Grown",
        venue: "",
        sample_rate_hz: 48_000,
        devices: desks,
        cables: (1..size).map { |d| {a: "desk-#{d}/card", b: "rec-#{d}/interface", kind: "USB", length_m: 3} },
        rows: rows,
        tracks: tracks,
        patch: {slots: slots, plugs: plugs, sends: sends})
    end

    def small(slots, plugs, sends, d, count)
      (1..count).each do |k|
        plugs["list/row/#{(d - 1) * count + k}"] = "desk-#{d}/mic/#{k}"
        slots.merge!("desk-#{d}/channel/#{k}" => {from: "desk-#{d}/mic/#{k}", tap: "raw"},
          "desk-#{d}/card-send/#{k}" => {from: "desk-#{d}/channel/#{k}", tap: "raw"},
          "rec-#{d}/track/#{k}" => {from: "rec-#{d}/lane-in/#{k}", tap: "raw"},
          "rec-#{d}/lane-out/#{k}" => {from: "rec-#{d}/track/#{k}", tap: "raw"})
        sends["desk-#{d}/channel/#{k}"] = ["main/1", "main/2", "bus/#{k % 10 + 1}"].to_h { |mix| ["desk-#{d}/#{mix}", {tap: "post-fader", level_db: -6}] }
      end
      {1 => "main/1", 2 => "main/2", 3 => "bus/1", 4 => "bus/2"}.each do |n, mix|
        slots["desk-#{d}/out-socket/#{n}"] = {from: "desk-#{d}/#{mix}", tap: "post-fader"}
      end
      {"pa-#{d}/in/1" => 1, "pa-#{d}/in/2" => 2, "wedge-#{d}-0/in/1" => 3, "wedge-#{d}-1/in/1" => 4}.each do |slot, n|
        slots[slot] = {from: "desk-#{d}/out-socket/#{n}"}
      end
    end

    def data(desks, threads, computers)
      numbers = 1..threads
      home = ->(n) { [(n - 1) % desks + 1, (n - 1) / desks + 1] }
      {version: 2,
       name: "Large",
       venue: "",
       sample_rate_hz: 48_000,
       profiles: [wide_desk],
       devices: devices(desks, computers),
       cables: cables(desks, computers),
       rows: numbers.map { |n| {id: "list/row/#{n}", number: n, name: "Source #{n}"} },
       tracks: tracks(threads, computers, home),
       patch: patch(numbers, desks, computers, home)}
    end

    def wide_desk
      data = Loomshuttle::Shelf.profiles["desk-48"].to_data
      data.merge("name" => "desk-128",
        "label" => "wide desk",
        "families" => data["families"].map { |family| WIDER.key?(family["name"]) ? family.merge("count" => WIDER[family["name"]]) : family })
    end

    def devices(desks, computers)
      gear = (1..desks).flat_map do |d|
        [device("desk-#{d}", "desk-128", (d == 1) ? "leader" : nil),
          *(1..6).map { |b| device("box-#{d}-#{b}", "stage-box-16x8", "aes50").merge(settings: {output_offset: (b - 1) % 3 * 8}) },
          *(1..4).map { |w| {id: "wedge-#{d}-#{w}", name: "Wedge #{d}.#{w}", profile: "wedge"} }]
      end
      gear + (1..computers).map { |c| device("rec-#{c}", "recording-computer", "interface") } +
        [{id: "pa", name: "House", profile: "main-pa"}, {id: "stream", name: "Stream", profile: "livestream"}]
    end

    def device(id, profile, clock) = {id: id, name: id.capitalize, profile: profile, rate_hz: 48_000, clock: clock}

    def cables(desks, computers)
      boxes = (1..desks).flat_map do |d|
        [%w[aes50-a 1 2 3], %w[aes50-b 4 5 6]].flat_map do |port, *chain|
          chain.each_with_index.map do |b, i|
            {a: "box-#{d}-#{b}/aes50", b: (i == 0) ? "desk-#{d}/#{port}" : "box-#{d}-#{chain[i - 1]}/chain", kind: "Cat 5e", length_m: 30}
          end
        end
      end
      boxes + (1..[computers, desks].min).map { |c| {a: "desk-#{c}/card", b: "rec-#{c}/interface", kind: "USB", length_m: 3} }
    end

    def tracks(threads, computers, home)
      (1..threads).filter_map { |n|
        home[n].then { |d, k|
          if d <= computers && k <= 48
            {id: "rec-#{d}/track/#{k}", place: "rec-#{d}/track/#{k}", name: "Source #{n}", row: "list/row/#{n}", armed: true}
          end
        }
      }
    end

    # Source k of a desk: its socket on the chains (48 on each port), its channel (48), lane
    # and track.
    def patch(numbers, desks, computers, home)
      slots = {}
      plugs = {}
      sends = {}
      numbers.each do |n|
        d, k = home[n]
        plugs["list/row/#{n}"] = (k > 96) ? "desk-#{d}/mic/#{k - 96}" : "box-#{d}-#{(k - 1) / 16 + 1}/mic/#{(k - 1) % 16 + 1}"
        lay(slots, sends, d, k, computers)
      end
      (1..desks).each { |d| outputs(slots, d) }
      {slots: slots.merge("pa/in/1" => {from: "desk-1/out-socket/1"},
        "pa/in/2" => {from: "desk-1/out-socket/2"},
        "stream/in/1" => {from: "desk-1/out-socket/3"}),
       plugs: plugs,
       sends: sends}
    end

    def lay(slots, sends, d, k, computers)
      lane = if k > 96
        "mic/#{k - 96}"
      else
        (k > 48) ? "aes50-b-in/#{k - 48}" : "aes50-a-in/#{k}"
      end
      channel = "desk-#{d}/channel/#{k}"
      slots[channel] = {from: "desk-#{d}/#{lane}", tap: "raw"}
      slots["desk-#{d}/card-send/#{k}"] = {from: channel, tap: "raw"} if k <= 48
      sends[channel] = [*[1, 2].map { |m| "main/#{m}" }, *[0, 1].map { |b| "bus/#{(k + b * 7) % 12 + 1}" }].to_h { |mix| ["desk-#{d}/#{mix}", {tap: "post-fader", level_db: -6}] }
      return if d > computers || k > 48

      slots["rec-#{d}/track/#{k}"] = {from: "rec-#{d}/lane-in/#{k}", tap: "raw"}
      slots["rec-#{d}/lane-out/#{k}"] = {from: "rec-#{d}/track/#{k}", tap: "raw"}
    end

    def outputs(slots, d)
      slots["desk-#{d}/out-socket/1"] = {from: "desk-#{d}/main/1", tap: "post-fader"}
      slots["desk-#{d}/out-socket/2"] = {from: "desk-#{d}/main/2", tap: "post-fader"}
      slots["desk-#{d}/out-socket/3"] = {from: "desk-#{d}/bus/1", tap: "post-fader"}
      (1..12).each { |b| slots["desk-#{d}/aes50-a-out/#{b}"] = {from: "desk-#{d}/bus/#{b}", tap: "post-fader"} }
      (1..4).each { |w| slots["wedge-#{d}-#{w}/in/1"] = {from: "box-#{d}-1/out-socket/#{w}"} }
    end
  end
end
