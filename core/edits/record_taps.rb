# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets the taps of all lanes to the computer that take a channel, for what is recorded:
    # "soundcheck" takes the cleanest tap that the channel offers, "mix" takes it behind the
    # fader, as it is heard.
    RecordTaps = Edit.of("record_taps", desk: :id, purpose: :id) do
      def apply(show)
        unless %w[soundcheck mix].include?(purpose)
          return Refusal.of("purpose", purpose, "soundcheck, mix", "Lanes record for the soundcheck or for the mix, not for \"#{purpose}\".")
        end
        unless show.rig.devices[desk]&.profile&.kind == "desk"
          return Refusal.of("desk", desk, show.rig.all_of("desk").map(&:id).join(", "), "There is no desk #{desk}.")
        end

        lanes = show.patch.slots.select { |slot, take| slot.start_with?("#{desk}/card-send/") && show.rig.kind_of(take.from) == "channel" }
        if lanes.empty?
          return Refusal.of("desk",
            desk,
            "a desk whose lanes take channels",
            "The lanes of #{show.rig.devices[desk].name} take sockets in blocks: they are raw already.")
        end

        LayoutChange.apply(show, lanes.transform_values { |take| take.with(tap: tap(show, take)) })
      end

      private

      def tap(show, take)
        offered = show.rig.family_of(take.from).taps
        (purpose == "mix") ? offered.last : offered.first
      end
    end
  end
end
