# frozen_string_literal: true

module Loomshuttle
  module Patch
    # One whole patch. Immutable: every `with_` answers a changed copy.
    #
    # slots    slot id => Pick            what every slot of every field takes
    # plugs    row id => socket id        where each row of the input list is plugged
    # sends    channel or mix id => {mix id => Send}
    # opened   ids of the first slots of blocks that are opened to single choices
    # splits   ids of sockets that feed more than one channel on purpose
    # turned   channels (or desks) that are switched over to their second set
    # powered  ids of sockets with phantom power
    Scene = Value.of(slots: {}.freeze,
      plugs: {}.freeze,
      sends: {}.freeze,
      opened: Set.new.freeze,
      splits: Set.new.freeze,
      turned: Set.new.freeze,
      powered: Set.new.freeze) do
      # @param changes [Hash{String => Pick, nil}] nil clears the slot
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
      def with_turned(id, over) = with(turned: flag(turned, id, over))
      def with_power(socket_id, on) = with(powered: flag(powered, socket_id, on))

      # A short checksum of what a desk holds of the patch (so not where microphones are
      # plugged): equal patches have equal ones, whatever the order in which they were made.
      #
      # @return [String]
      def checksum
        taken = slots.sort.map { |id, take| [id, take.from, take.tap, take.delay_ms.to_f.round(2)] }
        sent = sends.sort.flat_map { |channel, mixes| mixes.sort.map { |mix, send| [channel, mix, send.tap, send.level_db.to_f.round(2)] } }
        Digest::SHA256.hexdigest(JSON.generate([taken, sent, turned.sort, powered.sort]))[0, 16]
      end

      # The same over everything, plugs too: what stands on a printed sheet.
      def sheet_checksum = Digest::SHA256.hexdigest(JSON.generate([checksum, plugs.sort, opened.sort, splits.sort]))[0, 8]

      def send_of(channel_id, mix_id) = sends.dig(channel_id, mix_id)

      private

      def flag(set, member, on) = (on ? set | [member] : set - [member]).freeze
    end
  end
end
