# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A line check was begun, and not every source was proved by it: what came in wrong, and what nobody has
    # heard at all. Before a check nothing is said: then it is nothing to forget.
    module Unheard
      READS = %i[linecheck].freeze
      # By where it came in.
      WHY = {"right" => "So it is in every mix and on the recording.", "nothing" => "Whoever needs it in the show gets nothing."}.freeze
      ELSEWHERE = "Whoever needs it in the show gets something else, or nothing."
      private_constant :WHY, :ELSEWHERE

      module_function

      def findings(show, facts)
        checked = (facts.linecheck || {}).slice(*show.rows.keys)
        return [] if checked.values.all? { |one| one[:state] == "open" }

        wrong = checked.select { |_, one| one[:state] == "wrong" }
        unheard = checked.reject { |_, one| %w[fine wrong].include?(one[:state]) }.keys
        [*wrong.map { |row, one| wrong(show, row, one) }, (unheard(show, unheard) if unheard.any?)].compact
      end

      def wrong(show, row, one)
        Finding.new(rule: "unheard", severity: "warn", step: "line-check", variant: "wrong", title: "#{show.label(row)} did not pass the line check",
          what: one[:said].join(" "), why: WHY.fetch(one[:about].first, ELSEWHERE), endpoints: [row], about: one[:about])
      end

      def unheard(show, rows)
        names = rows.map { |row| show.label(row) }
        Finding.new(rule: "unheard", severity: "note", step: "line-check", variant: "open",
          title: "#{Words::Runs.count(rows.size, "source")} #{(rows.size == 1) ? "was" : "were"} never heard",
          what: "#{Words::Runs.names(names)} #{(names.size == 1) ? "was" : "were"} skipped, or not reached, or #{(names.size == 1) ? "is" : "are"} patched another way since.",
          why: "A source that nobody tapped may come in anywhere, or nowhere.", endpoints: rows)
      end
      private_class_method :wrong, :unheard
    end
  end
end
