# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Which posts stand in which loom. Each answers the `posts` that Loom.weave takes.
    module Looms
      module_function

      NAMES = %w[patch soundcheck tracks].freeze

      # Input list, sockets (boxes before the desk's own), channels, card lanes, tracks.
      def patch(show)
        desk, computer = show.rig.first_of("desk"), show.rig.first_of("computer")
        boxes = show.rig.devices.values.select { |device| device.profile.kind == "box" }
        [post("row", "Input list", show.rows.keys), post("socket", "Socket", [*boxes, desk].compact.flat_map { |d| places(d, "mic") }),
          post("channel", "Channel", places(desk, "channel")), post("lane", "Card lane", places(desk, "card-send")),
          post("track", "Track", places(computer, "track"))]
      end

      # What plays back: tracks, lanes to the desk, channels.
      def soundcheck(show)
        desk, computer = show.rig.first_of("desk"), show.rig.first_of("computer")
        used = show.tracks.keys
        lanes = show.patch.slots.select { |_, take| used.include?(take.from) }.keys.sort_by { |id| Endpoint.parse(id).number }
        [post("track", "Track", used), post("return", "Return lane", lanes.empty? ? places(computer, "lane-out").first(used.size) : lanes),
          post("channel", "Channel", places(desk, "channel").first([used.size, 16].max))]
      end

      # Where roles of songs go, down to who hears them.
      def tracks(show)
        roles = show.roles.values.map(&:endpoint)
        lanes = playback_lanes(show)
        channels = fed_channels(show, lanes)
        [post("role", "Role", roles), post("return", "Return lane", lanes), post("channel", "Channel", channels),
          post("mix", "Mix", used_mixes(show)), post("listener", "Listener", show.rig.listeners.flat_map { |d| places(d, "in") })]
      end

      def post(key, title, ids) = {key: key, title: title, ids: ids}

      def places(device, family_name)
        family = device&.family(family_name) or return []
        (1..family.count).map { |number| Endpoint.id(device.id, family_name, number) }
      end

      # Lanes that carry a role or are free of tracks, so that a role can be laid on them.
      def playback_lanes(show)
        taken = show.patch.slots
        places(show.rig.first_of("computer"), "lane-out").reject { |id| show.tracks.key?(taken[id]&.from) }.last(8)
      end

      def fed_channels(show, lanes)
        lanes.flat_map { |lane| show.graph.onward(lane).map(&:to) }.select { |id| show.rig.family_of(id)&.kind == "channel" }.uniq
      end

      # Mixes that some listener hears.
      def used_mixes(show)
        desk = show.rig.first_of("desk") or return []
        desk.profile.mixes.reverse.flat_map { |family| places(desk, family) }.select { |id| Reach.listeners(show, id).any? }
      end
      private_class_method :post, :places, :playback_lanes, :fed_channels, :used_mixes
    end
  end
end
