# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # The three ways in which a desk's channels hold their feed, and what turns each:
    #
    #   set      one assignment: a swing rewrites its blocks or slots
    #   channel  a second slot and a switch a channel: the lane is laid there, then switched
    #   desk     two whole sets and one switch: the second set is made whole, then switched
    module Hold
      module_function

      # @param wanted [Hash{String => String}] channel => the lane on which its track returns
      # @param keep [Array<String>] channels that stay on the stage on purpose
      # @param staying [Array<String>] channels that have nothing on the recorder to play
      # @return [Array] edits
      def turning(show, desk, wanted, keep: [], staying: [])
        case desk.profile.holds
        when "channel" then [*second_slots(show, wanted), Edits::Turn.new(places: wanted.keys - show.patch.turned.to_a)]
        when "desk" then [*whole_second_set(show, desk, wanted), Edits::Turn.new(places: [desk.id])]
        else lay(show, wanted, keep, staying)
        end
      end

      # Edits that bring channels back that were turned without a swing.
      #
      # @return [Array<Edits::Connect, Edits::Turn>]
      def by_hand(show, desk = nil)
        turned = Signal::Feed.of_channels(show, desk).select { |_, feed| feed == :recorder }.keys
        switched, laid = turned.partition { |channel| show.turned?(channel) }
        [*back_to_sockets(show, laid), *switched_back(show, switched)]
      end

      # Each channel to its own socket: blocks whole where that brings all of them, else opened. What
      # neither brings back is left where it is, and the plan says so.
      def back_to_sockets(show, channels)
        wanted = channels.to_h { |channel| [channel, Signal::Sources.stage_source(show, channel)] }.compact
        wanted.group_by { |channel, _| Patch::Block.first_or_self(show, channel) }.each_value.flat_map do |pairs|
          edits = block_edits(show, pairs.to_h, [], [])
          brings?(show, Edits::Group.new(edits: edits), pairs.to_h) ? edits : []
        end
      end

      def switched_back(show, channels)
        places = channels.map { |channel| show.patch.turned.include?(channel) ? channel : show.rig.device_of(channel).id }.uniq
        places.empty? ? [] : [Edits::Turn.new(places: places, over: false)]
      end

      # Lays wanted slots on their lanes, in whole blocks as far as they go.
      def lay(show, wanted, keep, staying)
        blocks = wanted.group_by { |slot, _| Patch::Block.first_or_self(show, slot) }
        blocks.values.flat_map { |pairs| block_edits(show, pairs.to_h, keep, staying) }
      end

      # A block turns whole when all of it comes back in line and nobody stays; otherwise it
      # is opened where the model allows it, and single channels turn. One that no model opens stays
      # where somebody was kept, and else turns: whom it silences, the plan names.
      def block_edits(show, wanted, keep, staying)
        slots = Patch::Block.slots(show, wanted.keys.first)
        singles = wanted.map { |slot, lane| Edits::Connect.new(slot: slot, from: lane) }
        return singles if slots.size == 1
        return [singles.first] if (slots & (keep | staying)).empty? && brings?(show, singles.first, wanted)
        return [Edits::OpenBlock.new(slot: slots.first), *singles] if show.rig.field_of(slots.first).opens

        (slots & keep).any? ? [] : [singles.first]
      end

      # Whether the edit puts every wanted channel on its own lane.
      def brings?(show, edit, wanted)
        result = edit.apply(show)
        result.is_a?(Show) && wanted.all? { |slot, lane| result.patch.slots[slot]&.from == lane }
      end

      def second_slots(show, wanted)
        seconds = wanted.transform_keys { |channel| show.second_slot(channel) }
        lay(show, seconds.reject { |slot, lane| show.patch.slots[slot]&.from == lane }, [], [])
      end

      # Whatever does not turn must go on from where it is, so the second set holds it too; where the
      # desk listens to that set already, it does.
      def whole_second_set(show, desk, wanted)
        others = show.channels_of(desk).reject { |channel| wanted.key?(channel) || show.patch.slots[channel].nil? || show.turned?(channel) }
          .to_h { |channel| [channel, show.patch.slots[channel].from] }
        second_slots(show, wanted.merge(others))
      end
      private_class_method :back_to_sockets, :switched_back, :lay, :block_edits, :brings?, :second_slots, :whole_second_set
    end
  end
end
