# frozen_string_literal: true

module Loomshuttle
  module Capture
    # What an edit would do to a take that runs. Whatever would hurt it is said beforehand; the
    # rest stays free.
    #
    #   TakeGuard.harm(before, after, tracks: ["rec/track/1"], number: 4)   # => words, or nil
    module TakeGuard
      module_function

      # @param before, after [Show]
      # @param tracks [Array<String>] ids of the tracks in the take
      # @param number [Integer] of the take
      # @return [String, nil] one sentence of what it would do
      def harm(before, after, tracks:, number:)
        found = [rate(before, after), gear(before, after), *taken_away(before, after, tracks), turned(before, after), *fed(before, after, tracks)].compact
        "Take #{number} runs. This would #{found.uniq.first(4).join(", and ")}." if found.any?
      end

      def rate(before, after)
        return if before.sample_rate_hz == after.sample_rate_hz

        "set the show to #{after.sample_rate_hz / 1000.0} kHz; the desk follows when the take is over"
      end

      def gear(before, after)
        return if before.rig.equal?(after.rig) || before.rig == after.rig

        gone = before.rig.devices.keys - after.rig.devices.keys
        return "take out #{gone.map { |id| before.rig.devices[id].name }.join(", ")}" if gone.any?

        "change gear or cables under it"
      end

      def taken_away(before, after, tracks)
        gone = tracks - after.tracks.keys
        lanes = (tracks - gone).select { |id| lane(before, id) != lane(after, id) }
        [(names(before, gone, "take away") if gone.any?), (names(before, lanes, "give another lane to") if lanes.any?)]
      end

      def turned(before, after)
        return if Signal::Feed.of_desk(before) == Signal::Feed.of_desk(after)

        "turn the desk's feed"
      end

      # What arrives on a lane that is being recorded.
      def fed(before, after, tracks)
        other = tracks.select { |id| after.tracks.key?(id) && source(before, id) != source(after, id) }
        [(names(before, other, "put another signal on") if other.any?)]
      end

      def lane(show, track) = show.patch.slots[show.tracks[track]&.place]&.from

      # The slot behind the lane: what the desk sends on it, at which tap.
      def source(show, track)
        lane = lane(show, track) or return
        show.patch.slots[sent_on(show, lane)]&.then { |take| [take.from, take.tap] }
      end

      # The desk's send that a computer's lane is joined to carries the same number.
      def sent_on(show, lane)
        desk = show.rig.first_of("desk") or return lane
        place = Endpoint.parse(lane)
        (place.family == "card-send") ? lane : Endpoint.id(desk.id, "card-send", place.number)
      end

      def names(show, tracks, verb)
        shown = tracks.first(3).map { |id| show.tracks[id].name }
        more = tracks.size - shown.size
        "#{verb} #{shown.join(", ")}#{" and #{more} more" if more > 0}"
      end
      private_class_method :rate, :gear, :taken_away, :turned, :fed, :lane, :source, :sent_on, :names
    end
  end
end
