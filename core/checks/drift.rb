# frozen_string_literal: true

module Loomshuttle
  module Checks
    # The desk's state differs from the plan.
    module Drift
      READS = %i[desk].freeze

      module_function

      def findings(show, facts)
        return [] unless facts.desk

        changes = Compare::Patches.desk(show, show.patch, facts.desk)
        return [] if changes.empty?

        places = changes.flat_map { |change| change[:places] }

        [Finding.new(rule: "drift",
          severity: "warn",
          step: "patch",
          title: "The desk differs from the plan in #{Words::Runs.count(places.size, "place")}",
          what: changes.first(3).map { |change| "#{change[:words]}." }.join(" "),
          why: "What is heard is what the desk has, whatever the plan says.",
          about: changes.map { |change| [change[:part], change[:places], change[:after]] }.sort,
          endpoints: places.uniq)]
      end
    end
  end
end
