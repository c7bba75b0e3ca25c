# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Not an edit itself: finds the edit that joins two places that somebody joined on the
    # loom, whichever end was picked up first, and the one that takes them apart again. What it
    # finds can be made; else it says why not in the words of what is held, and the way out
    # where there is one.
    module Join
      # A run as long as both posts.
      TO_THE_END = "end"
      # Not a run: the whole block of slots that the first place stands in.
      BLOCK = "block"

      module_function

      # @param one [String] an endpoint id
      # @param other [String] an endpoint id
      # @return [Plug, Connect, SetSend, Group, Refusal]
      def between(show, one, other) = run(show, one, other, 1)

      # The same for a run: one to one onward from both ends; rows go on by the list, and
      # channels that are sent to a mix go all to that mix. What has nothing to lay on the way is
      # passed over.
      #
      # @param count [Integer, String] or TO_THE_END, or BLOCK
      # @return [Edit, Refusal]
      def run(show, one, other, count)
        return block(show, one, other) if count == BLOCK

        from, to, first = directed(show, one, other)
        return JoinRefusals.nothing(show, one, other) unless first

        made = (count == 1) ? first : onward(show, from, to, first, count)
        result = made.is_a?(Refusal) ? made : made.apply(show)
        result.is_a?(Refusal) ? JoinRefusals.of(show, one, other, made, result) : made
      end

      # A block that was dropped on a slot of its own field changes places with the block there; on
      # anything else it takes the block of sources that lies there.
      #
      # @return [Edit, Refusal]
      def block(show, one, other)
        first = Patch::Block.first_or_self(show, one)
        aligned = aligned(show, first, other)
        return between(show, first, aligned) unless same_field?(one, other)

        there = Patch::Block.first_or_self(show, other)
        return Refusal.of("to", other, "a place outside the block", "#{Words::Runs.capital(show.label(other))} is in the block that is held.") if there == first

        swap = Swap.new(one: first, other: there)
        result = swap.apply(show)
        result.is_a?(Refusal) ? result : swap
      end

      # What the history calls it.
      #
      # @return [String]
      def words(show, one, other, count = 1)
        return block_words(show, one, other) if count == BLOCK

        from, to, = directed(show, one, other)
        from, to = [from || one, to || other].map { |id| show.label(id) }
        return "Lay #{from} on #{to}" if count == 1

        "Lay #{(count == TO_THE_END) ? "all" : count} from #{from} on #{to} onward"
      end

      # The edit that takes off what is laid between two places.
      #
      # @return [Plug, Clear, SetSend, SetMix, Refusal]
      def apart(show, one, other)
        parting(show, one, other) || parting(show, other, one) ||
          Refusal.new(field: "to",
            value: other,
            allowed: "a place that #{show.label(one)} is laid to",
            why: "Nothing is laid between #{show.label(one)} and #{show.label(other)}.")
      end

      # The edit that frees a place of what comes to it.
      #
      # @return [Plug, Clear, Group, Refusal]
      def free(show, place)
        return Plug.new(row: place, socket: nil) if show.patch.plugs.key?(place)

        slot = Laying.slot_behind(show, place)
        return Clear.new(slot: slot) if slot && show.patch.slots.key?(slot)

        plugged = show.patch.plugs.select { |_, socket| socket == place }.keys
        plugged.empty? ? nothing_on(show, place) : Group.new(edits: plugged.map { |row| Plug.new(row: row, socket: nil) })
      end

      # What the history calls a parting.
      #
      # @param other [String, nil] nil where a place is freed of whatever comes to it
      def parting_words(show, one, other) = other ? "Take #{show.label(one)} off #{show.label(other)}" : "Free #{show.label(one)}"

      def block_words(show, one, other)
        slots = Patch::Block.slots(show, one)
        return "Swap #{Words::Runs.places(show, slots)} with #{Words::Runs.places(show, Patch::Block.slots(show, other))}" if same_field?(one, other)

        from = aligned(show, slots.first, other)
        "Lay #{Words::Runs.places(show, slots.each_index.map { |step| Endpoint.parse(from).onward(step) })} on #{Words::Runs.places(show, slots)}"
      end

      def same_field?(one, other) = Endpoint.parse(one).field == Endpoint.parse(other).field

      # Where the block of sources begins in which a place lies, for a block of slots of that size.
      def aligned(show, slot, other)
        size = Patch::Block.slots(show, slot).size
        Endpoint.parse(other).then { |place| (place.number.is_a?(Integer) && !show.rows.key?(other)) ? place.at(((place.number - 1) / size * size) + 1) : other }
      end

      # @return [Array(String, String, Edit), nil] the end it comes from, the end it goes to
      def directed(show, one, other)
        [[one, other], [other, one]].each do |from, to|
          edit = Laying.edit(show, from, to)
          return [from, to, edit] if edit
        end
        nil
      end

      def onward(show, from, to, first, count)
        edits = []
        (1..).each do |step|
          break if step > ((count == TO_THE_END) ? RUN_SLOTS.max : count)
          break if from.nil?

          absent = [from, to].find { |id| !there?(show, id) }
          break if absent && count == TO_THE_END
          return absent(show, first, absent, absent == from) if absent

          edits << Laying.edit(show, from, to, pair: false)
          from = following(show, from)
          to = Endpoint.parse(to).onward(1) unless first.is_a?(SetSend)
        end
        Group.new(edits: edits.compact)
      end

      def there?(show, id) = show.rows.key?(id) || id.start_with?("songs/") || show.rig.present?(id)

      # The place after this one; of rows the next of the list, nil behind the last.
      def following(show, id)
        return Endpoint.parse(id).onward(1) unless show.rows.key?(id)

        show.rows.keys.then { |rows| rows[rows.index(id) + 1] }
      end

      def absent(show, first, id, from)
        field = case first
        when SetSend then from ? "channel" : "mix"
        when Plug then "socket"
        else from ? "from" : "slot"
        end
        Refusal.new(field: field, value: id, allowed: "places of this model", why: "This model has no #{show.label(id)}; the run is too long.")
      end

      def nothing_on(show, place)
        sources = show.graph.to(place).count { |edge| edge.kind == :send }
        why = sources.zero? ? "Nothing is laid on #{show.label(place)}." : "#{show.label(place)} mixes #{sources} sources: hold the one that is to leave, then lay it here once more."
        Refusal.new(field: "from", value: place, allowed: "a place that takes something", why: why)
      end

      def parting(show, from, to)
        return Plug.new(row: from, socket: nil) if show.rows.key?(from) && show.patch.plugs[from] == to
        return SetSend.new(channel: from, mix: to, on: false) if show.patch.send_of(from, to)

        mix = show.mixes[Endpoint.number(to).to_s] if to.start_with?("songs/mix/")
        return SetMix.new(mix: mix.id, members: mix.members.except(from).freeze) if mix&.members&.key?(from)

        slot = Laying.slot_behind(show, to)
        Clear.new(slot: slot) if slot && show.patch.slots.key?(slot) && show.graph.line_back(to).drop(1).include?(from)
      end
      private_class_method :block, :block_words, :same_field?, :aligned, :directed, :onward, :there?, :following, :absent, :nothing_on, :parting
    end
  end
end
