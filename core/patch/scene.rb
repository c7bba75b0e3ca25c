# frozen_string_literal: true

module Loomshuttle
  module Patch
    # One whole patch. Immutable: every `with_` answers a changed copy.
    #
    # slots   slot id => Take            what every slot of every field takes
    # plugs   row id => socket id        where each row of the input list is plugged
    # sends   channel id => {mix id => Send}
    # opened  ids of the first slots of blocks that are opened to single choices
    # splits  ids of sockets that feed more than one channel on purpose
    Scene = Value.of(slots: {}.freeze, plugs: {}.freeze, sends: {}.freeze, opened: Set.new.freeze, splits: Set.new.freeze) do
      # @param changes [Hash{String => Take, nil}] nil clears the slot
      def with_slots(changes)
        with(slots: slots.merge(changes).compact.freeze)
      end

      def with_plug(row_id, socket_id)
        with(plugs: plugs.merge(row_id => socket_id).compact.freeze)
      end

      # @param send [Send, nil] nil takes the channel off the mix
      def with_send(channel_id, mix_id, send)
        mixes = sends.fetch(channel_id, {}).merge(mix_id => send).compact.freeze
        kept = sends.merge(channel_id => mixes)
        kept.delete(channel_id) if mixes.empty?
        with(sends: kept.freeze)
      end

      def with_opened(block_id, open) = with(opened: flag(opened, block_id, open))
      def with_split(socket_id, wanted) = with(splits: flag(splits, socket_id, wanted))

      # A short checksum of what a desk holds of the patch (so not where microphones are
      # plugged): equal patches have equal ones, whatever the order in which they were made.
      #
      # @return [String]
      def checksum
        taken = slots.sort.map { |id, take| [id, take.from, take.tap, take.delay_ms.to_f.round(2)] }
        sent = sends.sort.flat_map { |channel, mixes| mixes.sort.map { |mix, send| [channel, mix, send.tap, send.level_db.to_f.round(2)] } }
        Digest::SHA256.hexdigest(JSON.generate([taken, sent]))[0, 16]
      end

      def send_of(channel_id, mix_id) = sends.dig(channel_id, mix_id)

      private

      def flag(set, member, on) = (on ? set | [member] : set - [member]).freeze
    end
  end
end
