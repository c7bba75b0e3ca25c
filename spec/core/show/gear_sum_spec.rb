# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Show::GearSum do
  def sum(of) = described_class.of(of)

  # As PostgreSQL gives objects back: keys by length, then by letter.
  def shuffled(value)
    case value
    when Hash then value.to_a.sort_by { |key, _| [key.size, key] }.to_h { |key, one| [key, shuffled(one)] }
    when Array then value.map { |one| shuffled(one) }
    else value
    end
  end

  Loomshuttle::Shelf.profiles.values.select { |profile| profile.kind == "desk" }.each do |profile|
    it "is the same for a stage that was told of it, and out of the database: #{profile.label}" do
      planned = hall(profile.name)
      told = Loomshuttle::Demo.show(JSON.parse(Loomshuttle::Exchange::ShowFile.write(Loomshuttle::Exchange::Template.staged(planned))))
      kept = Loomshuttle::Demo.show(shuffled(JSON.parse(Loomshuttle::Exchange::ShowFile.write(planned))))
      expect([sum(told), sum(kept)]).to eq([sum(planned)] * 2)
    end
  end

  {"a box" => ["device", {id: "box-b", profile: "stage-box-16x8"}], "a setting of one" => ["device", {id: "box-a", settings: {output_offset: 8}}],
   "a longer cable" => ["cable", {a: "box-a/aes50", b: "desk/aes50-a", length_m: 41}], "a rate" => ["show_rate", {rate_hz: 44_100}],
   "a source" => ["rows", {rows: {"list/row/13" => {name: "Saw"}}}]}.each do |what, (kind, fields)|
    it("is another with #{what}") { expect(sum(show(edit(kind, **fields)))).not_to eq(sum(show)) }
  end

  {"the patch" => ["run", {slot: "desk/channel/1", from: "desk/mic/1", count: 8}], "a plug" => ["plug", {row: "list/row/1", socket: nil}],
   "the name of a source" => ["rename", {id: "list/row/1", name: "Drone"}]}.each do |what, (kind, fields)|
    it("is the same whatever #{what}") { expect(sum(show(edit(kind, **fields)))).to eq(sum(show)) }
  end
end
