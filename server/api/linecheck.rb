# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # The guided line check, and what can be planted on a simulated stage.
      module Linecheck
        def self.registered(app)
          app.get("#{SHOW}/linecheck") { json check_view(linechecks.of(workspace.id)) }
          app.post("#{SHOW}/linecheck") do
            kept = @check_lines.call(workspace.id, given, author.who)
            ears.begin_anew if %w[start measure].include?(given["do"])
            json check_view(kept)
          end
          app.post("#{SHOW}/linecheck/mend") { check_mend(given["row"]) }
          app.post("#{SHOW}/linecheck/gain") do
            gain_db = @simulate.turn_preamp(workspace.id, given["row"], given["by_db"])
            ears.forget(Loomshuttle::Linecheck::Way.of(show, given["row"]).lanes)
            json gain_db: gain_db
          end
          app.get("#{SHOW}/controls") { json @controls.now(workspace.id) }
          app.post("#{SHOW}/controls") { json @controls.turn(workspace.id, given) }
          app.get("#{SHOW}/simulation") { json @simulate.now(workspace.id) }
          app.post("#{SHOW}/simulation") { json @simulate.call(workspace.id, given) }
          app.helpers Helpers
        end

        # What only these routes need.
        module Helpers
          def check_view(kept) = Views::Linecheck.of(kept, show, ears.state, ears.minute, @simulate.gains_db(workspace.id))

          def check_mend(row)
            verdict = linechecks.of(workspace.id).state.verdict(show, row)
            unless verdict&.place == "elsewhere"
              raise BadInput.new(field: "row", value: row, allowed: "a source that came in elsewhere; look again")
            end

            edited("Patch as it was heard") { |now| Loomshuttle::Linecheck::Repatch.of(now, row, verdict.lane).then { |way| way.is_a?(Refusal) ? way : way.edit } }
          end
        end
      end
    end
  end
end
