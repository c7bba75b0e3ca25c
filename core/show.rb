# frozen_string_literal: true

module Loomshuttle
  # Everything that an engineer plans for one show. The checks, the traces, the recorder
  # and the screens are all computed from this one value.
  #
  # rows      row id => Capture::Row     the input list
  # tracks    track id => Capture::Track
  # songs     [Song]                     the set list
  # roles     name => Role
  # check     Soundcheck::State          what the swing remembers
  # names     endpoint id => what the show calls it (buses, mostly)
  # accepted  finding key => Acceptance
  class Show < Value.of(:name, :venue, :sample_rate_hz, :rig, :patch, rows: {}.freeze, tracks: {}.freeze,
    songs: [].freeze, roles: {}.freeze, names: {}.freeze, check: Soundcheck::State.new, accepted: {}.freeze)
    def initialize(**)
      @memo = {}
      super
    end

    # The joins of this show. Built once for each value: a frozen show never disagrees
    # with its graph.
    #
    # @return [Signal::Graph]
    def graph = @memo[:graph] ||= Signal::Graph.new(self)

    def label(endpoint_id)
      endpoint = Endpoint.parse(endpoint_id)
      case endpoint.field
      when "list/row" then rows[endpoint_id]&.name || "row #{endpoint.number}"
      when "songs/role" then "role #{endpoint.number}"
      else names.key?(endpoint_id) ? "#{names[endpoint_id]} (#{rig.label(endpoint_id)})" : rig.label(endpoint_id)
      end
    end

    def row_of_track(track_id) = rows[tracks[track_id]&.row]

    # @return [Capture::Track, nil] the first track meant for a row
    def track_of_row(row_id) = @memo.fetch(:track_of_row) { @memo[:track_of_row] = tracks.values.reverse.to_h { |t| [t.row, t] } }[row_id]

    # @return [String, nil] the row that is plugged in at a socket
    def row_at(socket_id) = patch.plugs.key(socket_id)
  end
end
