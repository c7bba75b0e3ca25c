# frozen_string_literal: true

module Loomshuttle
  module Screens
    # The picture of all threads as data: upright posts with their knots, and the strands
    # between them. Which places stand on a post is all that differs from loom to loom;
    # the strands follow from the graph, so a new loom is a new list of posts.
    #
    #   Loom.weave(show, Looms.patch(show))
    #
    # A knot is {id, label, present, colour, stitch, pair, row}; a strand joins two knots
    # and says which source runs in it, and in a note at which level, tap or delay, where that
    # is what one looks for; a fray is a thread that should go on and does not.
    module Loom
      module_function

      # @param posts [Array<Hash>] see Looms
      # @return [Hash] plain data for the screen
      def weave(show, posts)
        rank = posts.each_with_index.flat_map { |post, i| post[:ids].map { |id| [id, i] } }.to_h
        mixes = fed_mixes(show, posts)
        strands = posts.drop(1).flat_map do |post|
          post[:ids].flat_map { |id| strands_into(show, rank, mixes, id).map { |strand| noted(show, strand, post) } }
        end
        {posts: posts.map { |post| post_data(show, mixes, post) }, strands: with_summed(show, rank, strands), frays: frays(show, rank)}
      end

      # Mixes that something is sent to: from there on they are what runs.
      def fed_mixes(show, posts)
        posts.select { |post| post[:mixes] }.flat_map { |post| post[:ids] }.select do |id|
          show.graph.to(id).any? { |edge| edge.kind == :send }
        end
      end

      def post_data(show, mixes, post)
        knots = post[:ids].map { |id| knot(show, mixes, id).merge(aside: post[:aside].include?(id)) }
        knots = knots.map { |one| one.merge(label: carried(show, one)) } if post[:sources]
        {key: post[:key], title: post[:title], knots: knots, brackets: post[:sources] ? [] : brackets(show, post[:ids])}
      end

      def carried(show, knot)
        return knot[:label] unless knot[:row]

        row = show.rows[knot[:row]] and return row.name

        knot[:row].start_with?("songs/") ? of_songs(show, knot[:row]) : ""
      end

      def knot(show, mixes, id)
        endpoint = Endpoint.parse(id)
        {id: id,
         number: show.rows[id]&.number || endpoint.number,
         label: label(show, id, endpoint),
         name: (show.rows[id] || show.track_at(id))&.name || show.names[id],
         present: outside_rig?(endpoint) || show.rig.present?(id),
         **thread(show, mixes, id)}
      end

      # What runs through a place: the source it began at, with its colour and stitch.
      def thread(show, mixes, id)
        from = origin(show, id)
        row = show.rows[from]
        return {row: row.id, colour: row.colour, stitch: row.stitch, pair: row.pair} if row
        return dyed(from, *Capture::Dyes.nth(mixes.index(from))) if mixes.include?(from)

        of_role_or_mix(show, from)
      end

      # What nobody in the audience may hear is drawn apart, and so is whatever mix it is in.
      def of_role_or_mix(show, from)
        all = [*show.roles.values.sort_by { |role| role.private? ? 0 : 1 }, *show.mixes.values]
        at = all.index { |one| one.endpoint == from } or return dyed(nil, nil, nil)
        names = all[at].is_a?(Show::Mix) ? all[at].roles : [all[at].name]
        dyed(from, Capture::Dyes.nth(at).first, (names.any? { |name| show.roles[name]&.private? }) ? "dash" : "solid")
      end

      # Roles and mixes have no colour of their own: they take them in turn, the click the first.
      def dyed(from, colour, stitch) = {row: from, colour: colour, stitch: stitch, pair: nil}

      def label(show, id, endpoint)
        return show.track_at(id).name if show.track_at(id)

        (endpoint.device == "songs") ? of_songs(show, id) : show.label(id)
      end

      # A role or a mix of them, by its name alone.
      def of_songs(show, id) = id.start_with?("songs/mix/") ? show.label(id).delete_prefix("mix ") : Endpoint.number(id).to_s

      def outside_rig?(endpoint) = %w[list songs].include?(endpoint.device)
      def origin(show, id) = Signal::Sources.row_behind(show, id)

      # Walks back from a knot through places that stand on no post until knots are met. A
      # way that meets none, or comes round through a later post, is no strand.
      def strands_into(show, rank, mixes, id)
        found = []
        queue = [[id, nil]]
        seen = Set.new
        while (place, tap = queue.shift)
          show.graph.to(place).each do |edge|
            # A mix that stands on no post has too many sources to be drawn through.
            next if (edge.kind == :send && place != id) || !seen.add?(edge.from)

            near = tap || edge.tap
            met = rank[edge.from]
            queue << [edge.from, near] unless met
            found << strand(show, mixes, edge.from, id, near) if met && met < rank[id]
          end
        end
        found
      end

      # A send says its level, a slot of an output its tap and delay; that a socket is taken raw
      # goes without saying.
      def noted(show, strand, post)
        send = show.patch.send_of(strand[:from], strand[:to])
        take = show.patch.slots[strand[:to]] if post[:notes]
        words = send ? [format("%g dB", send.level_db).tr("-", "−"), send.tap] : [(take&.tap unless take&.tap == "raw"), (format("%g ms", take.delay_ms) if take&.delay_ms&.positive?)]
        strand.merge(note: words.compact.join(", ").then { |text| text unless text.empty? })
      end

      # Tracks that come back on another's lane run to it as well, and each says its level there.
      def with_summed(show, rank, strands)
        beside = Signal::Returns.beside(show).keys.map { |place| [place, Signal::Returns.slot(show, place)] }.select { |place, lane| rank[place] && rank[lane] && rank[place] < rank[lane] }
        return strands if beside.empty?

        lanes = beside.map(&:last)
        (strands + beside.map { |place, lane| strand(show, [], place, lane, nil).merge(note: nil) }).map do |one|
          track = show.track_at(one[:from]) if lanes.include?(one[:to])
          track ? one.merge(note: format("%g dB", Signal::Returns.sum_db(show, track)).tr("-", "−")) : one
        end
      end

      # A strand that leaves a mix carries many sources and no one colour: it is live all
      # the same.
      def strand(show, mixes, from, to, tap)
        thread = thread(show, mixes, from)
        {from: from,
         to: to,
         tap: tap,
         live: !thread[:row].nil? || show.graph.to(from).any? { |edge| edge.kind == :send },
         **thread,
         pair: !thread[:pair].nil?}
      end

      # Where the source of a track is on its way, but the track listens elsewhere.
      def frays(show, rank)
        show.tracks.values.select { |track| track.row && rank[track.place] }.filter_map do |track|
          socket = show.patch.plugs[track.row]
          next if socket.nil? || show.graph.line_back(track.place).include?(socket)

          {from: last_knot(show, rank, socket), to: track.place, row: track.row, colour: show.rows[track.row].colour}
        end
      end

      # The channel that the source arrives at, or its socket: mixes are not its own way.
      def last_knot(show, rank, socket)
        channel = show.graph.onward(socket).map(&:to).find { |id| rank[id] && show.rig.family_of(id)&.kind == "channel" }
        channel || socket
      end

      # Runs of slots that move together, and what each takes.
      def brackets(show, ids)
        ids.select { |id| show.rig.field_of(id)&.blocks? }.group_by { |id| Patch::Block.first(show, id) }.map do |first, slots|
          {first: slots.first, last: slots.last, opened: show.patch.opened.include?(first), label: takes(show, slots)}
        end
      end

      def takes(show, slots)
        froms = slots.filter_map { |id| show.patch.slots[id]&.from }
        return "takes nothing" if froms.empty?

        first, last = [froms.first, froms.last].map { |id| Signal::Route.words(show, id) }
        one_line = first.sub(/ \d+\z/, "") == last.sub(/ \d+\z/, "")
        one_line ? "#{first}–#{last[/\d+\z/]}" : "single choices"
      end

      private_class_method :fed_mixes, :post_data, :carried, :knot, :thread, :dyed, :label,
        :outside_rig?, :origin, :strands_into, :noted, :strand, :with_summed, :frays, :last_knot, :brackets, :takes
    end
  end
end
