# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sends a channel (or a bus, or a main) to a mix, or (on: false) takes it off.
    SetSend = Edit.of("send", channel: :id, mix: :id, on: [:flag, true], tap: [:id, "post-fader"], level_db: [:number, 0.0]) do
      def apply(show)
        refuse_channel(show) || refuse_mix(show) || refuse_tap(show) || refuse_level ||
          show.with(patch: show.patch.with_send(channel, mix, on ? Patch::Send.new(tap: tap, level_db: level_db) : nil))
      end

      private

      def refuse_channel(show)
        place = show.rig.place(channel)
        return nil if place&.present? && place.device.profile.assigns.key?(place.family.name)

        Refusal.new(field: "channel",
          value: channel,
          allowed: "a channel or a mix of a desk",
          why: "There is no channel #{channel} in this rig.")
      end

      def refuse_mix(show)
        place = show.rig.place(channel)
        mixes = place.device.profile.assigns.fetch(place.family.name)
        target = Endpoint.parse(mix)
        return nil if target.device == place.device.id && mixes.include?(target.family) && show.rig.present?(mix)

        Refusal.new(field: "mix", value: mix, allowed: mixes.join(", "),
          why: "#{show.label(channel)} cannot be sent to #{show.label(mix)}; it can be sent to: #{mixes.join(", ")}.")
      end

      def refuse_tap(show)
        taps = show.rig.family_of(channel).taps
        return nil if taps.include?(tap)

        Refusal.new(field: "tap", value: tap, allowed: taps.join(", "), why: "A send of #{show.label(channel)} has no tap \"#{tap}\".")
      end

      def refuse_level
        return nil if Patch::Send::LEVELS_DB.cover?(level_db)

        Refusal.new(field: "level_db", value: level_db, allowed: "#{Patch::Send::LEVELS_DB.min} to #{Patch::Send::LEVELS_DB.max} dB",
          why: "A send's level lies between #{Patch::Send::LEVELS_DB.min} and #{Patch::Send::LEVELS_DB.max} dB, not at #{level_db}.")
      end
    end
  end
end
