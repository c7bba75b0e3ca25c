# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Changes of the show, what they would change, and their history.
      module Edits
        def self.registered(app)
          changes(app)
          swings(app)
          app.get("#{SHOW}/history") { json history.list(workspace.id, author, from: params["from"].to_i, limit: (params["limit"] || 50).to_i) }
          app.helpers Helpers
        end

        def self.changes(app)
          app.post("#{SHOW}/edits") { edited(given["label"] || "Edit") { Loomshuttle::Edits.from_outside(given["edit"]) } }
          app.post("#{SHOW}/mends") { mend(cured(given["key"])) }
          app.post("#{SHOW}/joins") { edited(Loomshuttle::Edits::Join.words(show, *joined)) { |now| join(now) } }
          app.post("#{SHOW}/partings") { edited(Loomshuttle::Edits::Join.parting_words(show, given["from"], given["to"])) { |now| part(now) } }
          %i[undo redo].each do |way|
            app.post("#{SHOW}/#{way}") do
              known_loom!
              answer(@edit.public_send(way, workspace.id, author, during_take: given["during_take"]))
            end
          end
          app.post("#{SHOW}/accepted") { edited("Leave a finding") { accept(given["key"], given["digest"], given["reason"]) } }
          app.post("#{SHOW}/preview") { preview(looked_at) }
        end

        def self.swings(app)
          app.get("#{SHOW}/swing") do
            now = workspace.kept
            swing_plan(now.show, params["to"], (params["keep"] || "").split(","), params["desk"]).then do |plan|
              plan.is_a?(Refusal) ? refuse(plan) : json(plan.to_data(now.show).merge(version: now.version))
            end
          end
          app.post("#{SHOW}/swing") do
            turned = nil
            edited("Swing to the #{given["to"]}", exact: true, after: ->(kept) { swung(turned, kept.show) }) do |now|
              swing_plan(turned = now, given["to"], given["keep"] || [], given["desk"]).then { |plan| plan.is_a?(Refusal) ? plan : plan.edit }
            end
          end
        end
        private_class_method :changes, :swings

        # What only these routes need.
        module Helpers
          # The finding whose mend somebody asks for.
          def cured(key)
            finding = workspace.findings.find { |one| one.key == key }
            return finding if finding&.mend

            raise BadInput.new(field: "key", value: key, allowed: finding ? "a finding that knows its mend" : "a finding that is still there; look again")
          end

          def mend(finding) = edited(finding.mend.label) { finding.mend.edit }

          def looked_at
            return Loomshuttle::Edits.from_outside(given["edit"]) if given["edit"]

            given["part"] ? part(show) : join(show)
          end

          def join(now) = Loomshuttle::Edits::Join.run(now, *joined)

          # The two ends and how many, or that it is the whole block of the first.
          def joined = [given["from"], given["to"], given["block"] ? Loomshuttle::Edits::Join::BLOCK : given["count"] || 1]

          def part(now)
            given["to"] ? Loomshuttle::Edits::Join.apart(now, given["from"], given["to"]) : Loomshuttle::Edits::Join.free(now, given["from"])
          end

          # What an edit would change, in words and as the loom would be.
          def preview(edit)
            return refuse(edit) if edit.is_a?(Refusal)

            after = edit.apply(show)
            return refuse(after) if after.is_a?(Refusal)

            loom = Screens::Loom.weave(after, Screens::Looms.named(given["loom"] || "patch", after))
            json changes: Loomshuttle::Compare::Patches.of(after, show.patch, after.patch), strands: loom[:strands]
          end

          def accept(key, digest, reason)
            Loomshuttle::Edits::Accept.new(key: key, acceptance: digest && Show::Acceptance.new(who: author.who.empty? ? "engineer" : author.who,
              at: clock.call.utc.iso8601,
              digest: digest,
              reason: reason.to_s))
          end

          # What the page of every device shows of it: the way back, and the steps for a desk that does not answer.
          def swung(before, after)
            by_hand = on_air.on_air?(workspace.id) && !desk.answers_now?
            soundchecks.change(workspace.id) { |state| state.swung(before, after, by_hand: by_hand) }
          end

          def swing_plan(now, to, keep, desk)
            return Soundcheck::Swing.to_stage(now, desk: desk) unless to == "recorder"

            turned = now.swung.swung? && Soundcheck::Swing.without(now.swung, desk) != now.swung
            turned ? Soundcheck::Swing.to_recorder_anew(now, keep: keep, desk: desk) : Soundcheck::Swing.to_recorder(now, keep: keep, desk: desk)
          end
        end
      end
    end
  end
end
