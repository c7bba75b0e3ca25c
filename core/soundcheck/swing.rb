# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Turns the desk's channels from the stage to the recorder and back, as one planned,
    # reversible change: the fewest slots, whole blocks where the desk has blocks.
    #
    #   plan = Swing.to_recorder(show, keep: ["desk/channel/12"])
    #   plan.edit.apply(show)   # plan.proved says that its inverse gives the same patch
    module Swing
      module_function

      # @param keep [Array<String>] channels that stay on the stage on purpose
      # @return [SwingPlan, Refusal]
      def to_recorder(show, keep: [])
        returns = Signal::Sources.returns(show)
        refusal = refuse_keep(returns, keep) || refuse_empty(returns.keys - keep)
        return refusal if refusal

        plan(show,
          returns.except(*keep).group_by { |channel, _| show.rig.device_of(channel) }
            .flat_map { |desk, pairs| Hold.turning(show, desk, pairs.to_h, keep) },
          keep)
      end

      # @return [SwingPlan, Refusal]
      def to_stage(show)
        restoring = show.swung.swung? ? [Edits::Restore.new(slots: show.swung.home)] : []
        back = show.patch.turned & show.swung.turned.to_set
        switching = back.any? ? [Edits::Turn.new(places: back.to_a, over: false)] : []
        edits = restoring + switching + Hold.by_hand(show).reject { |edit| edit.is_a?(Edits::Connect) ? show.swung.home.key?(edit.slot) : (edit.places - show.swung.turned).empty? }
        return nothing_to_turn if edits.empty?

        closing = show.swung.opened.map { |block| Edits::OpenBlock.new(slot: block, open: false) }
        SwingPlan.prove(show, to: :stage, edits: [*edits, *closing, Edits::Remember.new])
      end

      def plan(show, patching, keep)
        turned = Edits::Group.new(edits: patching).apply(show)
        return turned if turned.is_a?(Refusal)
        return nothing_to_turn if turned.patch == show.patch

        state = Patch::Swung.new(home: home(show, turned), opened: (turned.patch.opened - show.patch.opened).to_a.freeze,
          keep: kept(show, turned, keep), turned: (turned.patch.turned - show.patch.turned).to_a.freeze)
        SwingPlan.prove(show, to: :recorder, edits: [*patching, Edits::Remember.new(**state.to_h)])
      end

      # What to come back to, slot by slot: the patch as it is with every channel that was
      # turned by hand laid back to its own socket.
      def home(show, turned)
        staged = Edits::Group.new(edits: Hold.by_hand(show)).apply(show)
        staged = show if staged.is_a?(Refusal)
        before = staged.patch.slots.merge(show.swung.home)
        turned.patch.slots.keys.select { |id| turned.patch.slots[id] != before[id] }.to_h { |id| [id, before[id]] }.freeze
      end

      # Channels that stay: those asked for, and those that their block holds back.
      def kept(show, turned, keep)
        held = Signal::Sources.returns(show).keys.select { |channel| Signal::Feed.of(turned, channel) == :stage }
        (keep | held).freeze
      end

      def refuse_keep(returns, keep)
        unknown = keep.find { |channel| !returns.key?(channel) }
        unknown && Refusal.new(field: "keep", value: unknown, allowed: "channels with a track: #{returns.keys.join(", ")}",
          why: "#{unknown} has no track that could come back, so it stays on the stage anyway.")
      end

      def refuse_empty(channels)
        return nil if channels.any?

        Refusal.new(field: "to", value: "recorder", allowed: "a show whose tracks go back to the desk over lanes",
          why: "No channel can turn to the recorder: no track goes back to the desk over a lane.")
      end

      def nothing_to_turn
        Refusal.new(field: "to", value: nil, allowed: "the other side", why: "The desk already listens there; nothing is left to turn.")
      end
      private_class_method :plan, :home, :kept, :refuse_keep, :refuse_empty, :nothing_to_turn
    end
  end
end
