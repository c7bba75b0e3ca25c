# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A monitor send that follows the main fader, an output for recording or of fixed level that does.
    module TapChoice
      FOLLOWING = "post-fader"
      # Who hears each mix, what is sent there, and what recorders take.
      HANGS_ON = ->(show) { [show.rig, show.names, show.patch.sends, *show.rig.ids_of("bus").map { |mix| show.graph.onward(mix) }, *([show.patch.slots] if TapChoice.recorders?(show))] }
      private_constant :FOLLOWING

      module_function

      def findings(show) = [*monitors(show), *recordings(show)]

      # Mixes that performers alone hear, with the channels whose sends follow the fader.
      def monitors(show)
        following = show.rig.ids_of("bus").to_h { |mix| [mix, monitor?(show, mix) ? sent(show, mix) : []] }.reject { |_, from| from.empty? }
        following.empty? ? [] : [following_finding(show, following)]
      end

      def sent(show, mix)
        following = show.graph.to(mix).select { |edge| edge.kind == :send && edge.tap == FOLLOWING && show.rig.kind_of(edge.from) == "channel" }
        # All of one desk.
        following.map(&:from).sort_by { |id| Endpoint.number(id) }
      end

      # One fact of all monitor mixes.
      def following_finding(show, following)
        mixes = following.keys
        channels = Endpoint.sorted(following.values.reduce(:|))
        one = mixes.size == 1
        Finding.new(rule: "tap-choice", severity: "warn", step: "patch", variant: "monitors",
          title: one ? "#{Words::Runs.capital(show.label(mixes.first))} follows the faders" : "#{mixes.size} monitor mixes follow the faders",
          what: "#{Words::Runs.capital(Words::Runs.channels(show, channels))} #{(channels.size == 1) ? "is" : "are"} sent to #{Words::Runs.names(mixes.map { |mix| show.label(mix) }, 4)} #{FOLLOWING}, and only performers hear #{one ? "it" : "them"}.",
          why: "Every move for the audience moves what the musician hears.", endpoints: [*mixes, *channels], about: following.to_a.sort,
          mend: Mend.new(label: "Mend: send pre-fader", edits: -> { following.flat_map { |mix, from| from.map { |channel| before_fader(show, channel, mix) } } }))
      end

      def before_fader(show, channel, mix) = Edits::SetSend.new(channel: channel, mix: mix, tap: "pre-fader", level_db: show.patch.send_of(channel, mix).level_db)

      def monitor?(show, mix)
        heard = Signal::Reach.near(show, mix).map { |device| device.profile.audience }.uniq
        heard == ["performers"]
      end

      # Crew recorders want what is mixed, at a level that no last-minute fader takes away.
      def recordings(show)
        return [] unless recorders?(show)

        slots = show.patch.slots.select { |slot, pick| slot.include?("/output/") && pick.tap == FOLLOWING && %w[main bus].include?(show.rig.kind_of(pick.from)) && recorder?(show, slot) }
        slots.sort.map do |slot, pick|
          taps = show.rig.family_of(pick.from).taps
          Finding.new(rule: "tap-choice", severity: "note", step: "patch", variant: "recording", title: "A recording follows the fader of #{show.label(pick.from)}",
            what: "#{Words::Runs.capital(show.label(slot))} takes #{show.label(pick.from)} #{FOLLOWING}.",
            why: "When the main fader goes down between two songs, so does what is recorded.", endpoints: [slot, pick.from],
            mend: (taps.include?("pre-fader") ? Mend.new(label: "Mend: take it pre-fader", edits: [Edits::Connect.new(slot: slot, from: pick.from, tap: "pre-fader", delay_ms: pick.delay_ms)]) : nil))
        end
      end

      def recorders?(show) = show.rig.once(:recorders?) { show.rig.listeners.any? { |device| device.profile.name.include?("recorder") } }

      def recorder?(show, slot)
        listeners = Signal::Reach.listeners(show, slot)
        listeners.any? && listeners.all? { |device| device.profile.name.include?("recorder") }
      end
      private_class_method :monitors, :sent, :following_finding, :before_fader, :monitor?, :recordings, :recorder?
    end
  end
end
