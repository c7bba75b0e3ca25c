# frozen_string_literal: true

module Loomshuttle
  module Checks
    # What comes back from a recorder: a return taken behind its fader or delayed, its own mix on a
    # lane that a track needs, a role of a song there. Rules `return-level`, `mix-on-lanes` and
    # `lane-clash` of the design.
    module ReturnLevel
      CLEAN = ["raw", "in", nil].freeze
      private_constant :CLEAN

      module_function

      def findings(show)
        lanes = show.patch.slots.select { |slot, _| slot.include?("/lane-out/") }
        tracks, others = lanes.partition { |_, pick| show.graph.track?(pick.from) }
        [*levels(show, in_order(tracks.reject { |_, pick| CLEAN.include?(pick.tap) && pick.delay_ms.zero? })), *taken(show, in_order(others))]
      end

      def in_order(lanes) = lanes.to_h.slice(*Endpoint.sorted(lanes.map(&:first)))

      def levels(show, wrong)
        return [] if wrong.empty?

        slots = wrong.map(&:first)
        [Finding.new(rule: "return-level", severity: "warn", step: "soundcheck",
          title: "#{Words::Runs.count(slots.size, "return")} #{(slots.size == 1) ? "is" : "are"} not what was recorded",
          what: "#{Words::Runs.capital(Words::Runs.places(show, slots))} #{(slots.size == 1) ? "takes its track" : "take their tracks"} #{wrong.first.last.tap}#{", delayed" if wrong.any? { |_, pick| pick.delay_ms.positive? }}.",
          why: "A virtual soundcheck must hear what came from the stage: at unity, in time.", endpoints: slots, about: wrong.map { |_, pick| [pick.tap, pick.delay_ms] },
          mend: Mend.new(label: "Mend: take them as they were recorded", edits: wrong.map { |slot, pick| Edits::Connect.new(slot: slot, from: pick.from, tap: clean(show, pick.from)) }))]
      end

      def clean(show, id) = (CLEAN & (show.rig.family_of(id)&.taps || [])).first

      # Lanes on which a track of the same number would come back, and something else does.
      def taken(show, lanes)
        lanes.filter_map do |slot, pick|
          track = show.track_at(Endpoint.parse(slot).then { |place| Endpoint.id(place.device, "track", place.number) })
          next if track.nil? || track.row.nil? || Signal::Returns.slot(show, track.place)

          pick.from.start_with?("songs/") ? clash(show, slot, pick, track) : mix(show, slot, pick, track)
        end
      end

      def clash(show, slot, pick, track)
        Finding.new(rule: "lane-clash", severity: "warn", step: "tracks", title: "#{Words::Runs.capital(show.label(pick.from))} and #{track.name} want one lane",
          what: "#{Words::Runs.capital(show.label(slot))} carries #{show.label(pick.from)}; track #{track.number} (#{track.name}) would come back there and has no other way.",
          why: "At the virtual soundcheck that channel plays the backing track, or nothing.", endpoints: [slot, pick.from, track.place],
          mend: elsewhere(show, track))
      end

      # The role stays; the track comes back on a lane that nobody has.
      def elsewhere(show, track)
        laid = Soundcheck::LayReturns.of(show, [track])
        Mend.new(label: "Mend: bring #{track.name} back on lane #{Endpoint.number(laid.first.slot)}", edits: laid) unless laid.is_a?(Refusal)
      end

      def mix(show, slot, pick, track)
        Finding.new(rule: "mix-on-lanes", severity: "warn", step: "soundcheck", title: "The recorder's own mix is on the lane of #{track.name}",
          what: "#{Words::Runs.capital(show.label(slot))} carries #{show.label(pick.from)}; track #{track.number} (#{track.name}) would come back there.",
          why: "That channel would play the whole mix.", endpoints: [slot, pick.from, track.place],
          mend: Mend.new(label: "Mend: bring #{track.name} back there instead", edits: [Edits::Connect.new(slot: slot, from: track.place)]))
      end
      private_class_method :in_order, :levels, :clean, :taken, :clash, :elsewhere, :mix
    end
  end
end
