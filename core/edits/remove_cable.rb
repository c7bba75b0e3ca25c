# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Pulls a cable out. The patch stays: what it misses is found by the checks.
    RemoveCable = Edit.of("remove_cable", a: :id, b: :id) do
      def apply(show)
        left = show.rig.cables.reject { |cable| cable.ends.sort == [a, b].sort }
        if left.size == show.rig.cables.size
          return Refusal.new(field: "a",
            value: "#{a}, #{b}",
            allowed: "two ends of a cable of this rig",
            why: "There is no cable between #{a} and #{b}.")
        end

        show.with(rig: show.rig.with(cables: left.freeze))
      end
    end
  end
end
