# frozen_string_literal: true

module Loomshuttle
  module Signal
    # The joins that a patch lays, plugs and slots, by both of their ends. Each is kept by the
    # row or slot that it belongs to: a show that differs in a few of them takes over the rest
    # from the one before it, whole and in far less time than laying all of them again.
    #
    #   Laid.of(show, before).from["desk/mic/1"]   # => [Edge, ...]
    class Laid
      # From so many changes on everything is laid again.
      FEW = 200
      NONE = [].freeze
      private_constant :FEW, :NONE

      # @param before [Laid, nil] of a show that this one was made from
      def self.of(show, before = nil) = before&.after(show) || new(show)

      attr_reader :from, :to

      # Where joins differ from those of the one that this was made from.
      #
      # @return [Array(Set<String>, Set<String>), nil] ends to which and from which they lead; nil where
      #   that is another one
      def changed_since(before) = (@base == before.object_id) ? @changed : nil

      def initialize(show)
        @show_rig = show.rig
        @channels = show.rig.ids_of("channel")
        @turned = show.turned_channels
        @plugs, @slots = show.patch.plugs, show.patch.slots
        @pieces = (@plugs.keys + @slots.keys).to_h { |key| [key, join(key)] }.compact
        second_sets(show)
        @from = @pieces.values.group_by(&:from)
        @to = @pieces.values.group_by(&:to)
      end

      def edges = @pieces.values

      # @return [Laid, nil] of a show that differs in few plugs and slots; nil where it differs in more
      def after(show)
        return nil unless show.rig.equal?(@show_rig) && @turned.empty? && show.turned_channels.empty?

        changed = differing(@plugs, show.patch.plugs) + differing(@slots, show.patch.slots)
        changed |= raw_takers(show.patch.slots, changed.to_set)
        dup.tap { |copy| copy.follow(show.patch, changed, object_id) } if changed.size <= FEW
      end

      protected

      def follow(patch, changed, base)
        @plugs, @slots = patch.plugs, patch.slots
        old = @pieces.values_at(*changed).compact
        @pieces = @pieces.dup
        changed.each { |key| (edge = join(key)) ? @pieces[key] = edge : @pieces.delete(key) }
        fresh = @pieces.values_at(*changed).compact
        # The one before is known by its number alone: it is not to be kept for this.
        @base = base
        @changed = [(old + fresh).to_set(&:to), (old + fresh).to_set(&:from)].freeze
        @from = gathered(@from, old, fresh, &:from)
        @to = gathered(@to, old, fresh, &:to)
      end

      private

      # The lists at the ends of what went and came anew, all others as they are.
      #
      # @yield [Edge] its end
      def gathered(lists, old, fresh, &)
        gone, come = old.group_by(&), fresh.group_by(&)
        made = (gone.keys | come.keys).to_h { |id| [id, lists.fetch(id, NONE) - gone.fetch(id, NONE) + come.fetch(id, NONE)] }
        lists.merge(made).tap { |all| made.each { |id, edges| all.delete(id) if edges.empty? } }
      end

      def differing(before, now)
        return [] if before.equal?(now)

        now.reject { |key, value| before[key] == value }.keys + (before.keys - now.keys)
      end

      # A raw tap on a channel hangs on what that channel takes.
      def raw_takers(slots, changed)
        return [] unless changed.any? { |key| @channels.include?(key) }

        slots.select { |_, take| take.tap == "raw" && changed.include?(take.from) }.keys
      end

      # @return [Edge, nil]
      def join(key)
        return Edge.join(key, @plugs[key], :plug) if @plugs.key?(key)

        # A channel that is switched over listens to its second slot instead.
        take = @slots[key] unless @turned.include?(key)
        source = take && ((take.tap == "raw") ? before_feed(take.from) : take.from)
        source && Edge.join(source, key, :patch, take.tap)
      end

      def second_sets(show)
        @turned.each { |channel| @pieces[channel] = Edge.join(show.second_slot(channel), channel, :patch, "raw") }
      end

      # A raw tap on a channel only ever carries the channel's socket: nothing when the
      # channel listens to the computer.
      def before_feed(source)
        return source unless @channels.include?(source)

        socket = @slots[source]&.from
        socket unless socket.nil? || Endpoint.parse(socket).family == "card-return"
      end
    end
  end
end
