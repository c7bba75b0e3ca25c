# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # Takes the stage as it is: the plan says where a source really came in. Where the desk can, its slots
    # follow the plugs and every source stays on its channel and its lane; where it patches in whole blocks,
    # sources stay on their sockets and their tracks change places. One edit, undone as one.
    #
    #   Repatch.of(show, "list/row/7", 8)   # => Checks::Mend, or a Refusal that says why it cannot be
    module Repatch
      module_function

      # @param row [String] id of the source
      # @param lane [Integer] on which it came in
      # @return [Checks::Mend, Refusal]
      def of(show, row, lane)
        here, there = show.patch.plugs[row], Way.socket_of(show, lane)
        return refusal(lane, "Lane #{lane} comes from no socket, so the patch cannot follow.") unless there
        return refusal(lane, "It is planned at #{show.label(there)} already.") if here == there

        others = show.patch.plugs.select { |other, socket| socket == there && other != row }.keys
        plugged = plugs(row, here, there, others)
        with_slots(show, plugged + slots(show, here, there)) || with_tracks(show, row, others.first, plugged, lane) ||
          refusal(row, "The patch cannot follow it there. Swap the plugs at the box instead.")
      end

      def with_slots(show, edits)
        after = Edits::Group.new(edits: edits).apply(show)
        return nil unless after.is_a?(Show) && Way.all(show).all? { |id, way| Way.of(after, id).lanes == way.lanes }

        Checks::Mend.new(label: "Patch it that way instead", edits: edits)
      end

      # @param other [String, nil] the row that was planned there
      def with_tracks(show, row, other, plugged, lane)
        moved = Edits::Group.new(edits: plugged).apply(show)
        return nil unless moved.is_a?(Show)

        after = exchanged(moved, row, other, lane)
        return nil unless Way.of(after, row).lanes.include?(lane)

        Checks::Mend.new(label: "Plan it on lane #{lane}", edits: [*plugged, Edits::Put.between(moved, after)])
      end

      # Tracks go where their sources are recorded now.
      #
      # @return [Show]
      def exchanged(show, row, other, lane)
        mine, theirs = [row, other].map { |id| id && show.tracks.values.find { |track| track.row == id } }
        return show unless mine
        return show.with(tracks: show.tracks.merge(mine.id => mine.with(place: theirs.place), theirs.id => theirs.with(place: mine.place)).freeze) if theirs

        free(show, mine, lane)
      end

      # Where nobody was planned, the recorder's slot of that lane, if no track has it.
      def free(show, mine, lane)
        place = Endpoint.id(mine.recorder, "track", lane)
        return show unless show.rig.present?(place) && show.track_at(place).nil?

        show.with(tracks: show.tracks.merge(mine.id => mine.with(place: place)).freeze,
          patch: show.patch.with_slots(place => Patch::Pick.new(from: Signal::Recorder.place(show, lane)), mine.place => nil))
      end

      def plugs(row, here, there, others)
        [Edits::Plug.new(row: row, socket: there), *others.map { |other| Edits::Plug.new(row: other, socket: here) }]
      end

      # Whoever took the one takes the other.
      def slots(show, here, there)
        return [] unless here

        turned = show.patch.slots.filter_map do |slot, pick|
          to = {here => there, there => here}[socket_behind(show, pick.from)] or next
          from = Signal::Route.into(show, to, slot)
          [slot, from, pick] if from && from != pick.from
        end
        opened(show, turned.map(&:first)) + turned.map { |slot, from, pick| Edits::Connect.new(slot: slot, from: from, tap: pick.tap, delay_ms: pick.delay_ms) }
      end

      # Sockets and lanes that fixed wires bring a socket to.
      def socket_behind(show, id) = show.graph.fixed_beginning(id)

      def opened(show, slots)
        slots.select { |slot| show.rig.field_of(slot).opens && Patch::Block.slots(show, slot).size > 1 }
          .uniq { |slot| Patch::Block.first_or_self(show, slot) }.map { |slot| Edits::OpenBlock.new(slot: slot) }
      end

      def refusal(value, why) = Refusal.new(field: "row", value: value, allowed: "a source whose patch can follow its plug", why: why)
      private_class_method :with_slots, :with_tracks, :exchanged, :free, :plugs, :slots, :socket_behind, :opened, :refusal
    end
  end
end
