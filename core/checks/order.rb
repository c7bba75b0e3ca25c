# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Tracks that come back to another channel than their own, and channels that listen to a lane on
    # which nothing comes back: rules `order` and `one-ended` of the design.
    module Order
      module_function

      def findings(show) = Signal::Feed.returning?(show) ? [*crossed(show), *one_ended(show)] : []

      # @return [Array<Finding>] one a desk
      def crossed(show)
        wrong = Signal::Feed.of_channels(show).select { |_, feed| feed == :recorder }.keys.select { |channel| own(show, channel) && own(show, channel) != row(show, channel) }
        wrong = Endpoint.sorted(wrong)
        show.rig.by_device(wrong) { |channel| channel }.map do |desk, channels|
          Finding.new(rule: "order", severity: "stop", step: "soundcheck",
            title: "#{Words::Runs.capital(Words::Runs.channels(show, channels))} #{(channels.size == 1) ? "plays" : "play"} another track than #{(channels.size == 1) ? "its" : "their"} own",
            what: "#{Words::Runs.names(channels.map { |channel| "#{show.label(channel)} plays #{show.label(row(show, channel))}, not #{show.label(own(show, channel))}" }, 4)}.",
            why: "What is set by ear at the virtual soundcheck is set on the wrong strip.", endpoints: channels, about: channels.map { |channel| row(show, channel) },
            mend: mend(show, desk))
        end
      end

      def row(show, channel) = Signal::Sources.channels(show)[channel]

      # Whose channel it is: by what it took before the swing, by its first slot where it is switched,
      # or by what is sent on the lane of its return.
      def own(show, channel)
        pick = show.swung.home[channel] || (show.patch.slots[channel] if show.turned?(channel))
        origin = pick ? Signal::Sources.row_behind(show, pick.from) : sent(show, channel)
        origin if show.rows.key?(origin)
      end

      def sent(show, channel)
        lane = show.patch.slots[channel]&.from or return nil
        place = Endpoint.parse(lane)
        return nil unless place.family == "card-return"

        send = Endpoint.id(place.device, "card-send", place.number)
        show.rig.present?(send) ? Signal::Sources.row_behind(show, send) : nil
      end

      def mend(show, desk)
        staged = Soundcheck::Swing.staged(show, desk: desk.id)
        plan = Soundcheck::Swing.to_recorder(staged, desk: desk.id)
        return nil if plan.is_a?(Refusal) || !plan.proved || staged.equal?(show)

        back = Soundcheck::Swing.to_stage(show, desk: desk.id)
        Mend.new(label: "Mend: turn each#{Words::Runs.desk(show, desk)} to its own track", edits: [back.edit, plan.edit])
      end

      # Channels on a return lane on which nothing comes.
      def one_ended(show)
        dead = show.patch.slots.select { |slot, pick| pick.from.include?("/card-return/") && show.rig.kind_of(slot) == "channel" && !show.turned?(slot) && !Signal::Feed.live?(show, slot) }
        dead = Endpoint.sorted(dead.keys).reject { |slot| Patch::Block.slots(show, slot).any? { |other| Signal::Feed.live?(show, other) } }
        return [] if dead.empty?

        lanes = dead.map { |slot| show.patch.slots[slot].from }
        [Finding.new(rule: "one-ended", severity: "warn", step: "soundcheck",
          title: "#{Words::Runs.capital(Words::Runs.channels(show, dead))} #{(dead.size == 1) ? "listens" : "listen"} where nothing comes back",
          what: "#{Words::Runs.capital(Words::Runs.channels(show, dead))} #{(dead.size == 1) ? "takes" : "take"} #{Words::Runs.places(show, lanes)}, and no track or role is laid on #{(lanes.size == 1) ? "it" : "them"} at the other end.",
          why: "The return lanes differ at the computer and at the desk: these stay silent.", endpoints: dead + lanes, mend: fill(show, dead))]
      end

      # Each of them gets its own track on the lane that it listens to, where it has one that comes back nowhere.
      def fill(show, dead)
        laid = dead.map { |channel| filled(show, channel) or return nil }
        Mend.new(label: "Mend: lay #{(dead.size == 1) ? "its track" : "their tracks"} there", edits: laid)
      end

      def filled(show, channel)
        track = show.tracks.values.find { |one| one.row && one.row == own(show, channel) && Signal::Returns.slot(show, one.place).nil? }
        slot = show.graph.line_back(channel).find { |id| id.include?("/lane-out/") }
        Edits::Connect.new(slot: slot, from: track.place) if track && slot
      end
      private_class_method :crossed, :row, :own, :sent, :mend, :one_ended, :fill, :filled
    end
  end
end
