# frozen_string_literal: true

# For specs of the core alone: no database, no socket, no browser.
require_relative "../boot/core"
require_relative "../demo/lanterns"

module CoreHelp
  include Loomshuttle

  # The demo's show without its planted mistakes, changed by edits.
  def show(*edits)
    edits.reduce(MENDED) { |now, edit| edit.apply(now) }
  end

  def planted = PLANTED

  # Shows are immutable: parsed once for all examples.
  MENDED = Loomshuttle::Demo.show(Loomshuttle::Demo.mended)
  PLANTED = Loomshuttle::Demo.show

  # The same for the rigs below, as often as they are asked for.
  READ = Hash.new { |read, data| read[data] = Loomshuttle::Demo.show(data) }

  # A small by-lane rig: one rack mixer, one computer, two listeners.
  def rack(slots: {}, rate_hz: 48_000)
    base = {"desk/channel/1" => {from: "desk/mic/1", tap: "raw"},
            "desk/channel/2" => {from: "desk/mic/2", tap: "raw"},
            "desk/card-send/1" => {from: "desk/channel/1", tap: "raw"},
            "rec/track/1" => {from: "rec/lane-in/1"},
            "rec/lane-out/1" => {from: "rec/track/1"}}
    READ[{version: 1, name: "Small hall", venue: "", sample_rate_hz: rate_hz,
      devices: [{id: "desk", name: "Rack", profile: "rack-20", rate_hz: 48_000, clock: "leader"},
        {id: "rec", name: "Log", profile: "recording-computer", rate_hz: 48_000, clock: "interface"}],
      cables: [{a: "desk/card", b: "rec/interface"}], rows: [{id: "list/row/1", name: "Voice"}, {id: "list/row/2", name: "Lute"}],
      tracks: [{id: "rec/track/1", name: "Voice", row: "list/row/1", armed: true}],
      patch: {slots: base.merge(slots).compact, plugs: {"list/row/1" => "desk/mic/1", "list/row/2" => "desk/mic/2"}}}]
  end

  # Any shipped desk with eight sources on its own sockets, recorded and returned lane by
  # lane, and a house to hear it.
  def hall(profile_name, slots: {}, **fields)
    profile = Loomshuttle::Shelf.profiles.fetch(profile_name)
    numbers = 1..8
    sends = profile.fields["card-send"].takes?("mic") ? ["mic", "raw"] : ["channel", "raw"]
    base = numbers.flat_map do |n|
      [["desk/channel/#{n}", {from: "desk/mic/#{n}", tap: "raw"}], ["desk/card-send/#{n}", {from: "desk/#{sends[0]}/#{n}", tap: sends[1]}],
        ["rec/track/#{n}", {from: "rec/lane-in/#{n}", tap: "raw"}], ["rec/lane-out/#{n}", {from: "rec/track/#{n}", tap: "raw"}]]
    end.to_h
    READ[{version: 1, name: "Hall", venue: "", sample_rate_hz: 48_000,
          devices: [{id: "desk", name: "Desk", profile: profile_name, rate_hz: 48_000, clock: "leader"},
            {id: "rec", name: "Log", profile: "recording-computer", rate_hz: 48_000, clock: "interface"},
            {id: "pa", name: "House", profile: "main-pa"}],
          cables: [{a: "desk/card", b: "rec/interface", kind: "USB", length_m: 3}],
          rows: numbers.map { |n| {id: "list/row/#{n}", name: "Source #{n}"} },
          tracks: numbers.map { |n| {id: "rec/track/#{n}", name: "Source #{n}", row: "list/row/#{n}", armed: true} },
          patch: {slots: base.merge(slots).compact,
                  plugs: numbers.to_h { |n| ["list/row/#{n}", "desk/mic/#{n}"] },
                  sends: numbers.to_h { |n| ["desk/channel/#{n}", {"desk/main/1" => {}, "desk/main/2" => {}}] }}}.merge(fields)]
  end

  def edit(kind, **fields) = Loomshuttle::Edits.from_h(JSON.parse(JSON.generate({kind: kind, **fields})))

  # What undo applies: through data, as the history keeps it.
  def undo(one, before) = put(one.apply(before), before)
  def put(from, to) = Loomshuttle::Edits.from_h(JSON.parse(JSON.generate(Loomshuttle::Edits::Put.between(from, to).to_data)))

  # Without the note that holds for nearly every show: two lanes are free for the main mix.
  def findings(show, facts = Loomshuttle::Checks::Facts::NONE) = Loomshuttle::Checks::All.findings(show, facts).reject { |one| one.rule == "spare-lanes" }
  def titles(show) = findings(show).map(&:title)
  def rules(show) = findings(show).map(&:rule)
  def finding(show, rule) = Loomshuttle::Checks::All.findings(show).find { |one| one.rule == rule }
end

RSpec.configure { |config| config.include CoreHelp }
