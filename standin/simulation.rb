# frozen_string_literal: true

module Loomshuttle
  module Standin
    # What only a simulated stage has: whether the band is silent, who taps, and which faults were planted, to
    # be found by whoever learns the work. The desk knows nothing of it, as a real one would not.
    #
    # quiet    nobody plays, as in a line check
    # cut      the control line is: the desk goes on as it stands, and answers nobody who would turn or ask something
    # planted  [Fault]
    # tap      Tap, or nil
    Simulation = Value.of(quiet: false, cut: false, planted: [].freeze, tap: nil)

    class Simulation
      # kind   of FAULTS
      # row    id of the source that it is about; of a channel for those of the way back
      # other  the source, or channel, that it is swapped with; "" for every other kind
      # plugs  {row => socket} where the plugs really are, as it was when it was planted
      # slots  {slot => pick or nil} what channels really listen to, likewise
      Fault = Value.of(:kind, :row, other: "", plugs: {}.freeze, slots: {}.freeze) do
        # @return [Boolean] whether all that it is about is still there
        def stands?(rows, rig) = [row, *(other unless other.empty?)].all? { |id| RETURNING.include?(kind) ? rig.present?(id) : rows.key?(id) }
      end
      # A source that is tapped; `from`, the frame at which it began, is set by the block loop.
      Tap = Struct.new(:row, :from)

      # swap      two plugs changed places
      # dead      a broken cable: nothing comes
      # phantom   its microphone gets no phantom power: nothing comes
      # lane      its lanes on the card are dead, though its channel is not
      # hum       50 Hz and its harmonics
      # polarity  its cable is wired the other way round
      # clip      its preamp is open much too far
      # bleed     its neighbours in the list hear it, 20 dB softer and 3 ms later
      # crossed   two channels that listen to the recorder have each other's return
      # return    a channel that is to listen to the recorder listens to nothing
      # locked    a channel whose source somebody locked at the desk: whoever would turn it from elsewhere is refused
      FAULTS = %w[swap dead phantom lane hum polarity clip bleed crossed return locked].freeze
      # What somebody turned at the desk though the desk's memory says otherwise; of channels, not of sources.
      RETURNING = %w[crossed return locked].freeze
      TWO = %w[swap crossed].freeze
      private_constant :RETURNING, :TWO

      # @param show [Show] as the desk has it
      # @return [Simulation, String] why it cannot be planted
      def plant(show, kind, row, other)
        return "a fault is one of #{FAULTS.join(", ")}, not #{kind}" unless FAULTS.include?(kind)

        return "it cannot be swapped with itself" if TWO.include?(kind) && row == other
        return plant_return(show, kind, row, other) if RETURNING.include?(kind)

        unknown = [row, *(other if kind == "swap")].find { |id| !show.rows.key?(id) }
        return "there is no source #{unknown}" if unknown

        plugs = {"swap" => {row => show.patch.plugs[other], other => show.patch.plugs[row]}, "dead" => {row => nil}, "phantom" => {row => nil}}.fetch(kind, {})
        with_fault(Fault.new(kind: kind, row: row, other: other, plugs: plugs.freeze))
      end

      def without(kind, row) = with(planted: planted.reject { |one| one.kind == kind && one.row == row }.freeze)

      # Of sources and channels that are gone nothing is wrong any more.
      def among(rows, rig) = with(tap: nil, planted: planted.select { |one| one.stands?(rows, rig) }.freeze)

      def of(kind) = planted.select { |one| one.kind == kind }.map(&:row)
      def none? = !quiet && planted.empty?

      # @param show [Show] as the desk has it
      # @return [Show] with plugs and lanes as they really are
      def sounding(show)
        plugs = planted.map(&:plugs).reduce({}, :merge)
        lanes = of("lane").flat_map { |row| show.graph.onward(row).map(&:to).select { |id| Endpoint.parse(id).family == "card-send" } }
        slots = planted.map(&:slots).reduce({}, :merge).select { |slot, _| returning?(show, slot) }
        return show if plugs.empty? && lanes.empty? && slots.empty?

        show.with(patch: plugs.reduce(show.patch) { |patch, (row, socket)| patch.with_plug(row, socket) }.with_slots({**lanes.to_h { |id| [id, nil] }, **slots}))
      end

      # @return [String, nil] why a slot, or a switch, is not turned from elsewhere
      def locked(show, place)
        channel = of("locked").find { |id| [id, show.second_slot(id)].include?(place) }
        "#{show.label(channel)} is locked at the desk" if channel
      end

      private

      def with_fault(fault) = with(planted: [*planted.reject { |one| one.row == fault.row && one.kind == fault.kind }, fault].freeze)

      def plant_return(show, kind, channel, other)
        return "there is no channel #{channel}" unless show.rig.kind_of(channel) == "channel"
        return with_fault(Fault.new(kind: kind, row: channel)) if kind == "locked"

        slots = [channel, *(other if kind == "crossed")].map { |id| listening(show, id) or return "#{id} does not listen to the recorder" }
        picks = (kind == "crossed") ? slots.reverse.map { |slot| show.patch.slots[slot] } : [nil]
        with_fault(Fault.new(kind: kind, row: channel, other: (kind == "crossed") ? other : "", slots: slots.zip(picks).to_h.freeze))
      end

      # @return [String, nil] the slot by which a channel listens to what comes back
      def listening(show, channel)
        return nil unless show.rig.kind_of(channel) == "channel"

        slot = show.turned?(channel) ? show.second_slot(channel) : channel
        slot if returning?(show, slot)
      end

      def returning?(show, slot) = show.patch.slots[slot]&.from.to_s.include?("/card-return/")
    end
  end
end
