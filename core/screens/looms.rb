# frozen_string_literal: true

module Loomshuttle
  module Screens
    # Which posts stand in which loom. A loom is asked for by its name, or, where there are
    # several desks, by its name and the desk that it is woven for: "patch@monitors". Each
    # answers the `posts` that Loom.weave takes:
    #
    #   {key:, title:, ids: [endpoint id], aside: [endpoint id], mixes:, sources:, notes:}
    #
    # aside    places of another kind that stand behind the others; those that carry nothing fold away
    # mixes    whether places of the post are mixes that run on as threads of their own
    # sources  whether places are looked at as what they carry: named by it, without their blocks
    # notes    whether threads that end there say their tap and delay
    module Looms
      NAMES = %w[patch outputs mixes soundcheck tracks].freeze
      # Stands between a loom's name and its desk.
      OF = "@"

      module_function

      # @return [Array(String, String or nil)] which loom a name means, and whose
      # @raise [BadInput]
      def known(name)
        name.split(OF, 2).tap do |kind, _|
          next if NAMES.include?(kind)

          raise BadInput.new(field: "loom", value: name, allowed: "#{NAMES.join(", ")}, with or without #{OF} and a desk")
        end
      end

      # A desk that has left the rig since is no fault: its loom is then the first desk's.
      #
      # @param name [String] of NAMES, with or without a desk
      # @return [Array<Hash>] posts
      # @raise [BadInput]
      def named(name, show)
        kind, desk_id = known(name)
        desk = show.rig.all_of("desk").find { |device| device.id == desk_id } || show.rig.first_of("desk")
        public_send(kind, show, desk)
      end

      # Input list, sockets (boxes before the desk's own), channels, card lanes, tracks.
      def patch(show, desk = show.rig.first_of("desk"))
        gear = Surroundings.new(show, desk)
        [post("row", "Input list", gear.rows),
          post("socket", "Socket", [*gear.boxes, *gear.neighbours, desk].compact.flat_map { |device| show.places(device, "mic") }),
          post("channel", "Channel", show.places(desk, "channel"), aside: mixes_to_lanes(show, desk), mixes: true),
          post("lane", "Card lane", show.places(desk, "card-send")),
          post("track", "Track", gear.computers.flat_map { |computer| show.places(computer, "track") })]
      end

      # Mixes, the desk's output slots, sockets they leave by (boxes after the desk's own), and
      # who listens there.
      def outputs(show, desk = show.rig.first_of("desk"))
        gear = Surroundings.new(show, desk)
        sockets = [desk, *gear.boxes, *gear.interfaces].compact.flat_map { |device| show.places(device, "out-socket") }
        [post("mix", "Mix", mixes_of(show, desk), mixes: true),
          post("output", "Output", show.places(desk, "output"), notes: true),
          post("socket", "Socket", sockets, notes: true),
          post("listener", "Listener", show.rig.listening)]
          .reject { |one| one[:key] == "output" && one[:ids].empty? }
      end

      # Channels and the mixes that they go to, directly or through a group.
      def mixes(show, desk = show.rig.first_of("desk"))
        families = desk ? %w[bus main matrix] & desk.profile.mixes : []
        [post("channel", "Channel", show.places(desk, "channel"), sources: true),
          *families.map { |family| post(family, family.capitalize, show.places(desk, family), mixes: true) }]
      end

      # What plays back: tracks, lanes to the desk, channels.
      def soundcheck(show, desk = show.rig.first_of("desk"))
        computers = Surroundings.new(show, desk).computers
        used = show.tracks.values.map(&:place).select { |place| computers.any? { |computer| place.start_with?("#{computer.id}/") } }
        lanes = show.patch.slots.select { |_, take| used.include?(take.from) }.keys.sort_by { |id| Endpoint.parse(id).number }
        [post("track", "Track", used),
          post("return", "Return lane", lanes.empty? ? show.places(computers.first, "lane-out").first(used.size) : lanes),
          post("channel", "Channel", show.places(desk, "channel").first([used.size, 16].max))]
      end

      # Where roles of songs go, down to who hears them.
      def tracks(show, desk = show.rig.first_of("desk"))
        lanes = playback_lanes(show)
        [post("role", "Role", show.roles.values.map(&:endpoint)),
          (post("role-mix", "Mix of roles", show.mixes.values.map(&:endpoint)) if show.mixes.any?),
          post("return", "Return lane", lanes),
          post("channel", "Channel", fed_channels(show, lanes)),
          post("mix", "Mix", mixes_of(show, desk).select { |id| Signal::Reach.listeners(show, id).any? }),
          post("listener", "Listener", show.rig.listening)].compact
      end

      def post(key, title, ids, aside: [], mixes: false, sources: false, notes: false)
        {key: key, title: title, ids: ids + aside, aside: aside, mixes: mixes, sources: sources, notes: notes}
      end

      # Mixes that a card lane takes, itself or by an output, so that one can be printed.
      def mixes_to_lanes(show, desk)
        takes = ->(field) { desk&.profile&.fields&.dig(field)&.takes || [] }
        taken = takes["card-send"].then { |families| families.include?("output") ? families | takes["output"] : families }
        mixes_of(show, desk).select { |id| taken.include?(Endpoint.parse(id).family) }
      end

      def mixes_of(show, desk) = desk ? (%w[main bus matrix] & desk.profile.mixes).flat_map { |family| show.places(desk, family) } : []

      # Lanes that carry a role, then the last few that lead somewhere and carry no track, so
      # that a role can be laid on them.
      def playback_lanes(show)
        lanes = show.rig.all_of("player", "computer").flat_map { |device| show.places(device, "lane-out") }
          .reject { |id| show.graph.fixed_onward(id).empty? }
        free = lanes.reject { |id| show.track_at(show.patch.slots[id]&.from) }
        free.select { |id| show.patch.slots[id] }.union(free.last(8)).sort_by { |id| lanes.index(id) }
      end

      def fed_channels(show, lanes)
        lanes.flat_map { |lane| show.graph.onward(lane).map(&:to) }.select { |id| show.rig.kind_of(id) == "channel" }.uniq
      end
      private_class_method :post, :mixes_to_lanes, :mixes_of, :playback_lanes, :fed_channels
    end
  end
end
