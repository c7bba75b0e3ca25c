# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # The way that a source is to come by, as the plan has it: its socket, and the recorder's lanes on which
    # it can be heard.
    #
    #   Way.of(show, "list/row/7")   # => Way(row: ..., socket: "box-a/mic/7", lanes: [7])
    class Way < Value.of(:row, :socket, :lanes)
      # A verdict holds as long as this is the same.
      def digest = Digest::SHA256.hexdigest(JSON.generate([socket, lanes]))[0, 12]

      class << self
        # @param row [String] id
        # @return [Way] lanes from 1, of the recorder that this show records with
        def of(show, row) = all(show).fetch(row)

        # @return [Hash{String => Way}] one a row, in the list's order
        def all(show)
          show.once(:ways) do
            lanes = lanes(show).group_by(&:last).transform_values { |pairs| pairs.map(&:first) }
            show.rows.keys.to_h { |row| [row, new(row: row, socket: show.patch.plugs[row], lanes: lanes.fetch(row, [].freeze))] }.freeze
          end
        end

        # @return [String, nil] the microphone socket from which a lane comes, whatever is plugged in there
        def socket_of(show, lane)
          id = Signal::Recorder.place(show, lane)
          id && show.graph.line_back(id).reverse.find { |one| show.rig.present?(one) && Endpoint.parse(one).family == "mic" }
        end

        # @return [String, nil] the row that the plan has on a lane
        def row_of(show, lane) = lanes(show).find { |number, _| number == lane }&.last

        # Lanes that carry a mix: whoever is tapped is heard there too, and that says nothing.
        #
        # @return [Array<Integer>]
        def mixed_lanes(show) = Signal::Recorder.mixes(show).keys

        private

        # @return [Array<Array(Integer, String)>] lane and the row that arrives on it
        def lanes(show)
          show.once(:lane_rows) do
            ends = Signal::Recorder.lanes(show).map { |lane| [lane, show.graph.line_back(Signal::Recorder.place(show, lane)).last] }
            ends.select { |_, row| show.rows.key?(row) }.freeze
          end
        end
      end
    end
  end
end
