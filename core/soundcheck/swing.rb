# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Turns channels of a desk, or of all desks, from the stage to the recorder and back, as one
    # planned, reversible change: the fewest slots, whole blocks where the desk has blocks. What
    # has nothing on the recorder to play stays on the stage.
    #
    #   plan = Swing.to_recorder(show, keep: ["desk/channel/12"])
    #   plan.edit.apply(show)   # plan.proved says that the way back was tried, too
    module Swing
      module_function

      # @param keep [Array<String>] channels that stay on the stage on purpose
      # @param desk [String, nil] one desk's id; nil for all
      # @return [SwingPlan, Refusal]
      def to_recorder(show, keep: [], desk: nil)
        returns = of_desk(Signal::Sources.returns(show), desk)
        staying = live(show, desk) - returns.keys
        refusal = refuse_desk(show, desk) || refuse_keep(show, keep, returns.keys + staying) || refuse_empty(returns.keys - keep)
        return refusal if refusal

        by_desk = show.rig.by_device(returns.except(*keep)) { |channel, _| channel }
        patching = by_desk.flat_map { |one, pairs| Hold.turning(show, one, pairs.to_h, keep: keep, staying: staying) }
        plan(show, patching, keep, desk)
      end

      # Others stay on the stage than now, while the desk is on the recorder: one plan from the one to the other, with
      # the way home of a swing that had them stay from the start.
      #
      # @return [SwingPlan, Refusal]
      def to_recorder_anew(show, keep:, desk: nil)
        back = to_stage(show, desk: desk)
        return to_recorder(show, keep: keep, desk: desk) if back.is_a?(Refusal)

        forth = to_recorder(back.edit.apply(show), keep: keep, desk: desk)
        return forth if forth.is_a?(Refusal)

        again = SwingPlan.there(show, edits: [*back.edits, *forth.edits], desk: desk)
        (again.is_a?(SwingPlan) && again.edit.apply(show).patch == show.patch) ? nothing_to_turn : again
      end

      # @return [SwingPlan, Refusal]
      def to_stage(show, desk: nil)
        refusal = refuse_desk(show, desk)
        return refusal if refusal

        edits = way_back(show, desk)
        return edits if edits.is_a?(Refusal)
        return nothing_back(show, desk) if edits.empty?

        SwingPlan.back(show, edits: [*edits, Edits::Remember.new(**without(show.swung, desk).to_h)], desk: desk)
      end

      # The show as it is with everything back on the stage that can be.
      #
      # @return [Show]
      def staged(show, desk: nil)
        back = to_stage(show, desk: desk)
        back.is_a?(Refusal) ? show : back.edit.apply(show)
      end

      # What is remembered of one desk alone, taken away.
      #
      # @return [Patch::Swung]
      def without(swung, desk)
        return Patch::Swung.new unless desk

        other = ->(id) { !of?(id, desk) }
        swung.with(home: swung.home.select { |slot, _| other[slot] }.freeze, **%i[opened keep turned].to_h { |list| [list, swung.public_send(list).select(&other).freeze] })
      end

      # @return [Array<Edit>, Refusal]
      def way_back(show, desk)
        home = show.swung.home.select { |slot, _| of?(slot, desk) }
        turned = show.swung.turned.select { |place| of?(place, desk) && show.patch.turned.include?(place) }
        edits = []
        edits << Edits::Restore.new(slots: home) if home.any?
        edits << Edits::Turn.new(places: turned, over: false) if turned.any?
        restored = Edits::Group.new(edits: edits).apply(show)
        return restored if restored.is_a?(Refusal)

        by_hand = Hold.by_hand(restored, desk)
        [*edits, *by_hand, *closing(show, [*edits, *by_hand], desk)]
      end

      # Blocks that the swing opened; one in which somebody laid single choices since stays open.
      def closing(show, edits, desk)
        back = Edits::Group.new(edits: edits).apply(show)
        return [] if back.is_a?(Refusal)

        show.swung.opened.select { |block| of?(block, desk) }.map { |block| Edits::OpenBlock.new(slot: block, open: false) }
          .reject { |edit| edit.apply(back).is_a?(Refusal) }
      end

      def plan(show, patching, keep, desk)
        turned = Edits::Group.new(edits: patching).apply(show)
        return turned if turned.is_a?(Refusal)
        return nothing_to_turn if turned.patch == show.patch

        SwingPlan.there(show, edits: [*patching, Edits::Remember.new(**remembered(show, turned, keep, desk).to_h)], desk: desk)
      end

      # What to come back to, against the patch with everything on the stage, so that a second swing
      # knows the first one's way home as well.
      def remembered(show, turned, keep, desk)
        staged = staged(show)
        Patch::Swung.new(home: turned.patch.slots.keys.select { |id| turned.patch.slots[id] != staged.patch.slots[id] }.to_h { |id| [id, staged.patch.slots[id]] }.freeze,
          opened: (turned.patch.opened - staged.patch.opened).to_a.freeze, turned: (turned.patch.turned - staged.patch.turned).to_a.freeze,
          keep: ((desk ? without(show.swung, desk).keep : []) | keep | held(show, turned, desk)).freeze)
      end

      # Channels with a track that their block holds back.
      def held(show, turned, desk) = of_desk(Signal::Sources.returns(show), desk).keys.select { |channel| Signal::Feed.of(turned, channel) == :stage }

      # @return [Array<String>] channels on which something sounds that does not come from disk
      def live(show, desk)
        show.rig.ids_of("channel").select { |channel| of?(channel, desk) && Signal::Feed.live?(show, channel) && Signal::Feed.of(show, channel) != :recorder }
      end

      def of?(id, desk) = desk.nil? || id == desk || id.start_with?("#{desk}/")
      def of_desk(channels, desk) = channels.select { |channel, _| of?(channel, desk) }

      def refuse_desk(show, desk)
        return nil if desk.nil? || show.rig.devices[desk]&.profile&.kind == "desk"

        Refusal.new(field: "desk", value: desk, allowed: show.rig.all_of("desk").map(&:id).join(", "), why: "There is no desk #{desk}.")
      end

      def refuse_keep(show, keep, known)
        unknown = keep.find { |channel| !known.include?(channel) }
        unknown && Refusal.new(field: "keep", value: unknown, allowed: "channels with a source: #{known.join(", ")}",
          why: "#{show.label(unknown)} has no source, so there is nothing to keep on the stage.")
      end

      def refuse_empty(channels)
        return nil if channels.any?

        Refusal.new(field: "to", value: "recorder", allowed: "a show whose tracks go back to the desk over lanes",
          why: "No channel can turn to the recorder: no track goes back to the desk over a lane.")
      end

      # Nothing turns: all is on the stage, or what is not cannot come back.
      def nothing_back(show, desk)
        left = Signal::Feed.of_channels(show, desk).select { |_, feed| feed == :recorder }.keys
        return nothing_to_turn if left.empty?

        Refusal.new(field: "to", value: "stage", allowed: "channels whose sources are plugged in, in blocks that come back in line or can be opened",
          why: "#{Words::Runs.capital(Words::Runs.channels(show, left))} #{(left.size == 1) ? "stays" : "stay"} on the recorder: nothing of #{(left.size == 1) ? "it" : "them"} is plugged in, " \
               "or the block does not come back in line and this model opens none. Lay #{(left.size == 1) ? "it" : "them"} by hand.")
      end

      def nothing_to_turn
        Refusal.new(field: "to", value: nil, allowed: "the other side", why: "The desk already listens there; nothing is left to turn.")
      end
      private_class_method :way_back, :closing, :plan, :remembered, :held, :live, :of?, :of_desk, :refuse_desk, :refuse_keep, :refuse_empty, :nothing_back, :nothing_to_turn
    end
  end
end
