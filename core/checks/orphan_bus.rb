# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A group, bus or matrix that is fed and goes nowhere.
    module OrphanBus
      module_function

      def findings(show)
        show.patch.sends.values.flat_map(&:keys).uniq.select { |mix| show.graph.from(mix).empty? }
          .sort_by { |mix| Endpoint.number(mix) }
          .map do |mix|
          finding(show, mix)
        end
      end

      def finding(show, mix)
        senders = show.graph.to(mix).select { |edge| edge.kind == :send }.map(&:from).sort_by { |id| Endpoint.parse(id).then { |place| [place.family, place.number] } }
        feeds = senders.map { |id| show.label(id) }
        Finding.new(rule: "orphan-bus",
          severity: "warn",
          step: "patch",
          title: "#{Words::Runs.capital(show.label(mix))} goes nowhere",
          what: "It is fed by #{Words::Runs.names(feeds, 4)}, and assigned to no mix, output or lane.",
          why: "It is never heard.",
          about: senders,
          endpoints: [mix])
      end
      private_class_method :finding
    end
  end
end
