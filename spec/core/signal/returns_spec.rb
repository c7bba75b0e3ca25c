# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Signal::Returns do
  describe "a pair on which one track is heard alone" do
    def listens(first, *mixes)
      {slots: [first, first + 1].to_h { |n| ["desk/channel/#{n}", {from: "desk/card-return/#{n}", tap: "raw"}] },
       sends: [first, first + 1].to_h { |n| ["desk/channel/#{n}", mixes.to_h { |mix| [mix, {}] }] }}
    end

    # The hall plays what its main gets; tracks lie on lanes one to eight.
    def staged(profile, **more)
      base = hall(profile, slots: {"desk/out-socket/1" => {from: "desk/main/1"}, "pa/in/1" => {from: "desk/out-socket/1"}}.merge(more.fetch(:slots, {})))
      more.fetch(:sends, {}).reduce(base) { |now, (channel, mixes)| mixes.keys.reduce(now) { |one, mix| edit("send", channel: channel, mix: mix).apply(one) } }
    end

    it "is the first on which nothing is laid, and which no audience hears" do
      expect(described_class.free_pair(staged("desk-48"))).to eq([9, 10])
      expect(described_class.free_pair(staged("desk-48", **listens(9, "desk/bus/7")))).to eq([9, 10])
      expect(described_class.free_pair(staged("desk-48", **listens(9, "desk/main/1")))).to eq([11, 12])
      expect(described_class.free_pair(staged("desk-48", slots: {"rec/lane-out/10" => {from: "rec/track/1"}}))).to eq([11, 12])
    end

    it "arrives at the desk if any does; there is none where all are laid" do
      full = ->(count) { (1..count).to_h { |n| ["rec/lane-out/#{n}", {from: "rec/track/1"}] } }
      # The card of this desk ends at lane 32.
      expect([30, 32, 48].map { |count| described_class.free_pair(staged("desk-48", slots: full[count])) }).to eq([[31, 32], [33, 34], nil])
      expect([29, 32].map { |count| described_class.free_pair(hall("desk-32", slots: full[count])) }).to eq([[31, 32], [33, 34]])
    end
  end
end
