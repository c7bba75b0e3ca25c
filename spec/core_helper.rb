# frozen_string_literal: true

# For specs of the core alone: no database, no socket, no browser.
require_relative "../boot/core"
require_relative "../demo/lanterns"

module CoreHelp
  include Loomshuttle

  # The demo's show without its planted mistakes, changed by edits.
  def show(*edits)
    edits.reduce(Loomshuttle::Demo.show(Loomshuttle::Demo.mended)) { |now, edit| edit.apply(now) }
  end

  def planted = Loomshuttle::Demo.show

  # A small by-lane rig: one rack mixer, one computer, two listeners.
  def rack(slots: {}, rate_hz: 48_000)
    base = {"desk/channel/1" => {from: "desk/mic/1", tap: "raw"}, "desk/channel/2" => {from: "desk/mic/2", tap: "raw"},
            "desk/card-send/1" => {from: "desk/channel/1", tap: "raw"}, "rec/track/1" => {from: "rec/lane-in/1"}, "rec/lane-out/1" => {from: "rec/track/1"}}
    Loomshuttle::Demo.show(version: 1, name: "Small hall", venue: "", sample_rate_hz: rate_hz,
      devices: [{id: "desk", name: "Rack", profile: "rack-20", rate_hz: 48_000, clock: "leader"}, {id: "rec", name: "Log", profile: "recording-computer", rate_hz: 48_000, clock: "interface"}],
      cables: [{a: "desk/card", b: "rec/interface"}], rows: [{id: "list/row/1", name: "Voice"}, {id: "list/row/2", name: "Lute"}],
      tracks: [{id: "rec/track/1", name: "Voice", row: "list/row/1", armed: true}],
      patch: {slots: base.merge(slots).compact, plugs: {"list/row/1" => "desk/mic/1", "list/row/2" => "desk/mic/2"}})
  end

  def edit(kind, **fields) = Loomshuttle::Edits.from_h(JSON.parse(JSON.generate({kind: kind, **fields})))
  def titles(show) = Loomshuttle::Checks::All.findings(show).map(&:title)
  def rules(show) = Loomshuttle::Checks::All.findings(show).map(&:rule)
  def finding(show, rule) = Loomshuttle::Checks::All.findings(show).find { |one| one.rule == rule }
end

RSpec.configure { |config| config.include CoreHelp }
