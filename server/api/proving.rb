# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # What is proved by ear in the soundcheck.
      module Proving
        def self.registered(app)
          app.get("#{SHOW}/soundcheck") { json proof_view(soundchecks.of(workspace.id)) }
          app.post("#{SHOW}/soundcheck") { json proof_view(soundchecks.change(workspace.id) { |state| hand_on(state) }) }
          app.post("#{SHOW}/soundcheck/ping") { json proof_view(@ping.call(workspace.id, given, author.who)) }
          app.post("#{SHOW}/soundcheck/open") { json proof_view(@ping.open_again(workspace.id)) }
          app.post("#{SHOW}/soundcheck/mend") { as_heard }
          app.post("#{SHOW}/soundcheck/lay") { edited("Lay tracks on return lanes") { |now| laid(now) } }
          app.helpers Helpers
        end

        # What only these routes need.
        module Helpers
          def proof_view(kept) = Views::Proof.of(kept, show, pinging: @ping.busy?, check: linechecks.of(workspace.id).state)

          # What people say of it: a step is done, when the doors open.
          def hand_on(state)
            return state.with(doors_at: given["at"]) if given["do"] == "doors"

            who = author.who.empty? ? "somebody" : author.who
            state.ticked(given["step"], given["on"] ? who : nil)
          end

          def laid(now) = Soundcheck::LayReturns.of(now).then { |edits| edits.is_a?(Refusal) ? edits : Loomshuttle::Edits::Group.new(edits: edits) }

          # The plan follows what was heard.
          def as_heard
            proof = soundchecks.of(workspace.id).state.proof or raise BadInput.new(field: "proof", value: nil, allowed: "a return ping that was heard; send one first")
            edited("Plan the way back as it was heard") { |now| Soundcheck::AsHeard.of(now, proof).then { |way| way.is_a?(Refusal) ? way : way.edit } }
          end
        end
      end
    end
  end
end
