# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::Join do
  cases = {
    "a row to a socket" => [%w[list/row/1 box-a/mic/14], {kind: "plug", row: "list/row/1", socket: "box-a/mic/14"}],
    "a box socket to a channel, over its cable" => [%w[box-a/mic/9 desk/channel/1], {slot: "desk/channel/1", from: "desk/aes50-a-in/9"}],
    "a box socket to a lane" => [%w[box-a/mic/9 desk/card-send/9], {slot: "desk/card-send/9", from: "desk/aes50-a-in/9"}],
    "a channel to a lane: the lane takes the channel's socket" => [%w[desk/channel/9 desk/card-send/9], {slot: "desk/card-send/9", from: "desk/aes50-a-in/9"}],
    "the same from the other end" => [%w[desk/card-send/9 desk/channel/9], {slot: "desk/card-send/9", from: "desk/aes50-a-in/9"}],
    "a lane to a track" => [%w[desk/card-send/13 rec/track/13], {slot: "rec/track/13", from: "rec/lane-in/13"}],
    "a role to a lane" => [%w[songs/role/click rec/lane-out/32], {slot: "rec/lane-out/32", from: "songs/role/click"}],
    "a channel to a mix" => [%w[desk/channel/31 desk/bus/2], {kind: "send", channel: "desk/channel/31", mix: "desk/bus/2"}]
  }
  cases.each do |name, ((one, other), expected)|
    it "lays #{name}" do
      expect(described_class.between(planted, one, other).to_data).to include(expected)
    end
  end

  it "says when nothing can be laid" do
    expect(described_class.between(show, "pa/in/1", "list/row/1").why).to eq("Nothing can be laid between Main PA L and Hurdy-gurdy.")
  end
end
