# frozen_string_literal: true

module Loomshuttle
  module Checks
    # The planned length does not fit on the disk with its margin: rule `disk` of the design.
    module Room
      READS = %i[disk].freeze

      module_function

      def findings(show, facts)
        disk = facts.disk or return []
        armed = show.tracks.values.count(&:armed)
        left_s = Capture::DiskBudget.seconds_left(disk[:free_bytes], armed, show.sample_rate_hz, margin_bytes: disk[:margin_bytes], bytes: disk[:sample_bytes])
        return [] if left_s.nil? || disk[:planned_s].nil? || left_s >= disk[:planned_s]

        [Finding.new(rule: "disk", severity: "stop", step: "capture", title: "The disk holds #{minutes(left_s)} of #{minutes(disk[:planned_s])}",
          what: "With #{Words::Runs.count(armed, "armed track")} there is room for #{minutes(left_s)} over the margin; the show is planned for #{minutes(disk[:planned_s])}.",
          why: "The take would end before the show does.", endpoints: ["takes"], about: {planned_s: disk[:planned_s], armed: armed})]
      end

      def minutes(seconds) = Words::Runs.count((seconds / 60).floor, "minute")
      private_class_method :minutes
    end
  end
end
