# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A group, bus or matrix that is fed and goes nowhere.
    module OrphanBus
      module_function

      def findings(show)
        show.patch.sends.values.flat_map(&:keys).uniq.select { |mix| show.graph.from(mix).empty? }
          .sort_by { |mix| Endpoint.parse(mix).number }
          .map do |mix|
          finding(show, mix)
        end
      end

      def finding(show, mix)
        feeds = show.graph.to(mix).select { |edge| edge.kind == :send }.map { |edge| show.label(edge.from) }
        Finding.new(rule: "orphan-bus",
          severity: "warn",
          step: "patch",
          title: "#{show.label(mix).then { |text| text[0].upcase + text[1..] }} goes nowhere",
          what: "It is fed by #{feeds.first(4).join(", ")}#{" and #{feeds.size - 4} more" if feeds.size > 4}, and assigned to no mix, output or lane.",
          why: "It is never heard.",
          endpoints: [mix])
      end
      private_class_method :finding
    end
  end
end
