# frozen_string_literal: true

module Loomshuttle
  module Checks
    # The desk's state differs from the plan. Not among All::RULES: what the desk has is not
    # in the show, so whoever knows it asks here.
    module Drift
      module_function

      # @param desk [Patch::Scene] what the desk says that it has
      def findings(show, desk)
        changes = Compare::Patches.desk(show, show.patch, desk)
        return [] if changes.empty?

        places = changes.flat_map { |change| change[:places] }

        [Finding.new(rule: "drift",
          severity: "warn",
          step: "patch",
          title: "The desk differs from the plan in #{places.size} #{Words::Runs.plural("place", places)}",
          what: changes.first(3).map { |change| "#{change[:words]}." }.join(" "),
          why: "What is heard is what the desk has, whatever the plan says.",
          endpoints: places.uniq)]
      end
    end
  end
end
