# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Preamps, faders and mutes of the desk on air, as far as it tells of them and takes them over its control line.
      class Controls
        # @param desk_link [Links::DeskLink]
        # @param on_air [Store::OnAir]
        # @param workspaces [Workspaces]
        def initialize(desk_link:, on_air:, workspaces:)
          @desk_link, @on_air, @workspaces = desk_link, on_air, workspaces
        end

        # @return [Array<Hash>] one a source of the list: row, number, name, channel (its place, nil for none), channel_label,
        #   gain_db (nil where it is plugged in nowhere), fader_db, muted
        # @raise [BadInput, Links::DeskLink::Failed]
        def now(show_id)
          show = show_on_air(show_id)
          controls = @desk_link.controls
          channels = Signal::Sources.channels(show).invert
          show.rows.each_value.map do |row|
            socket, channel = show.patch.plugs[row.id], channels[row.id]
            {row: row.id, number: row.number, name: row.name, channel: channel, channel_label: channel && show.label(channel),
             gain_db: socket && controls[:gain].fetch(socket, 0.0), fader_db: channel && controls[:fader].fetch(channel, 0.0),
             muted: controls[:mute].include?(channel)}
          end
        end

        # @param wish [Hash] row, and one of gain_db, fader_db, muted; string keys
        # @return [Array<Hash>] as now
        def turn(show_id, wish)
          show = show_on_air(show_id)
          field = %w[gain_db fader_db muted].find { |name| wish.key?(name) } or raise BadInput.new(field: "gain_db", value: nil, allowed: "one of gain_db, fader_db, muted")
          place = (field == "gain_db") ? show.patch.plugs[wish["row"]] : Signal::Sources.channels(show).key(wish["row"])
          raise BadInput.new(field: "row", value: wish["row"], allowed: (field == "gain_db") ? "a source that is plugged in" : "a source that has a channel") unless place

          @desk_link.control(ADDRESSES.fetch(field), place, {true => 1, false => 0}.fetch(wish[field]) { |db| db.to_f })
          now(show_id)
        rescue Links::DeskLink::Refused => e
          raise BadInput.new(field: field, value: wish[field], allowed: "what the desk takes: #{e.message}")
        end

        ADDRESSES = {"gain_db" => "/gain", "fader_db" => "/fader", "muted" => "/mute"}.freeze
        private_constant :ADDRESSES

        private

        def show_on_air(id) = @workspaces.show_on_air(id, @on_air)
      end
    end
  end
end
