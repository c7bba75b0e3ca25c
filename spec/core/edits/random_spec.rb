# frozen_string_literal: true

require "core_helper"
require "support/random_edits"

# Property: whatever comes in as an edit is either refused with a reason or gives a show that
# its own file format takes, that can be drawn and checked, and that its undo takes back. A long run:
#
#   LOOMSHUTTLE_EDITS=5000 bundle exec rspec spec/core/edits/random_spec.rb
RSpec.describe "Edits from outside" do
  count = Integer(ENV.fetch("LOOMSHUTTLE_EDITS", "120"))
  codec = Loomshuttle::Shelf.show_file

  def applied(data, now)
    one = Loomshuttle::Edits.from_h(data)
    after = one.apply(now)
    after.is_a?(Loomshuttle::Refusal) ? [:refused, nil] : [after, undo(one, now)]
  rescue Loomshuttle::BadInput
    [:refused, nil]
  end

  [2].each do |seed|
    it "are refused or leave a whole show behind (seed #{seed})" do
      edits = RandomEdits.new(seed)
      counts = Hash.new(0)
      count.times.reduce(show) do |now, _|
        data = edits.next
        after, inverse = applied(data, now)
        counts[(after == :refused) ? :refused : :done] += 1
        next now if after == :refused

        expect(codec.parse(Loomshuttle::Exchange::ShowFile.write(after))).to eq(after), "not whole after #{data}"
        expect(inverse.apply(after)).to eq(now), "not undone: #{data}"
        Loomshuttle::Checks::All.findings(after)
        Loomshuttle::Screens::Looms::NAMES.each do |name|
          Loomshuttle::Screens::Loom.weave(after, Loomshuttle::Screens::Looms.named(name, after))
        end
        (after.rig.devices.size > 3) ? after : show
      end
      expect(counts.values_at(:refused, :done)).to all(be > 8)
    end
  end
end
