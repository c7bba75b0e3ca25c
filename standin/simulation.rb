# frozen_string_literal: true

module Loomshuttle
  module Standin
    # What only a simulated stage has: whether the band is silent, who taps, and which faults were planted, to
    # be found by whoever learns the work. The desk knows nothing of it, as a real one would not.
    #
    # quiet    nobody plays, as in a line check
    # planted  [Fault]
    # tap      Tap, or nil
    Simulation = Value.of(quiet: false, planted: [].freeze, tap: nil)

    class Simulation
      # kind   of FAULTS
      # row    id of the source that it is about
      # other  the source that it is swapped with; "" for every other kind
      # plugs  {row => socket} where the plugs really are, as it was when it was planted
      Fault = Value.of(:kind, :row, other: "", plugs: {}.freeze) do
        def rows = [row, *(other unless other.empty?)]
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
      FAULTS = %w[swap dead phantom lane hum polarity clip bleed].freeze

      # @param show [Show] as the desk has it
      # @return [Simulation, String] why it cannot be planted
      def plant(show, kind, row, other)
        return "a fault is one of #{FAULTS.join(", ")}, not #{kind}" unless FAULTS.include?(kind)

        unknown = [row, *(other if kind == "swap")].find { |id| !show.rows.key?(id) }
        return "there is no source #{unknown}" if unknown
        return "a source cannot be swapped with itself" if kind == "swap" && row == other

        plugs = {"swap" => {row => show.patch.plugs[other], other => show.patch.plugs[row]}, "dead" => {row => nil}, "phantom" => {row => nil}}.fetch(kind, {})
        with(planted: [*planted.reject { |one| one.row == row && one.kind == kind }, Fault.new(kind: kind, row: row, other: other, plugs: plugs.freeze)].freeze)
      end

      def without(kind, row) = with(planted: planted.reject { |one| one.kind == kind && one.row == row }.freeze)

      # Of sources that are gone nothing is wrong any more.
      def among(rows) = with(tap: nil, planted: planted.select { |one| one.rows.all? { |row| rows.key?(row) } }.freeze)

      def of(kind) = planted.select { |one| one.kind == kind }.map(&:row)
      def none? = !quiet && planted.empty?

      # @param show [Show] as the desk has it
      # @return [Show] with plugs and lanes as they really are
      def sounding(show)
        plugs = planted.map(&:plugs).reduce({}, :merge)
        lanes = of("lane").flat_map { |row| show.graph.onward(row).map(&:to).select { |id| Endpoint.parse(id).family == "card-send" } }
        return show if plugs.empty? && lanes.empty?

        show.with(patch: plugs.reduce(show.patch) { |patch, (row, socket)| patch.with_plug(row, socket) }.with_slots(lanes.to_h { |id| [id, nil] }))
      end
    end
  end
end
