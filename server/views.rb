# frozen_string_literal: true

module Loomshuttle
  module Server
    # Plain data for the browser, computed from the core.
    module Views
      module_function

      # @param kept [Store::Shows::Kept]
      def show(kept, context)
        show = kept.show
        {version: kept.version, name: show.name, venue: show.venue, sample_rate_hz: show.sample_rate_hz,
         feed: Soundcheck::Feed.of_desk(show), swung: show.check.swung?, keep: show.check.keep,
         leader: show.rig.devices.values.find { |device| device.clock == "leader" }&.name,
         findings: Checks::All.findings(show).map(&:to_data), rows: show.rows.values.map(&:to_h),
         tracks: tracks(show), roles: show.roles.values.map(&:to_h),
         songs: show.songs.map { |song| song.to_h.merge(stems: song.stems.map(&:to_h)) },
         undo: context.shows.last_done(kept.id)&.fetch(:label), redo: context.shows.last_undone(kept.id)&.fetch(:label)}
      end

      # Who feeds which channel and what goes back on which lane is worked out once for all
      # tracks, not once a track.
      def tracks(show)
        channels = Soundcheck::Sources.channels(show).invert
        lanes_back = show.patch.slots.select { |slot, _| Endpoint.parse(slot).family == "lane-out" }.to_h { |slot, take| [take.from, Endpoint.parse(slot).number] }
        show.tracks.values.map { |track| track_data(show, track, channels[track.row], lanes_back[track.id]) }
      end

      def track_data(show, track, channel, return_lane)
        lane = show.patch.slots[track.id]&.from
        row = show.rows[track.row]
        {id: track.id, number: track.number, name: track.name, armed: track.armed, lane: lane && Endpoint.parse(lane).number, return_lane: return_lane, row: track.row,
         colour: row&.colour, stitch: row&.stitch, channel: channel, feed: channel && Soundcheck::Feed.of(show, channel)}
      end

      def rig(show)
        {devices: show.rig.devices.values.map { |device| device_data(device) },
         cables: show.rig.cables.map { |cable| cable.to_h.merge(standard: port(show, cable.a).standard, lanes: [port(show, cable.a), port(show, cable.b)].map { |end_port| end_port.lanes_at(show.sample_rate_hz) }.min, used: used(show, cable)) },
         plugs: show.patch.slots.select { |slot, _| show.rig.device_of(slot).listener? }.map { |slot, take| {from: Endpoint.parse(take.from).device, to: Endpoint.parse(slot).device} }.uniq}
      end

      def device_data(device)
        {id: device.id, name: device.name, profile: device.profile.label, kind: device.profile.kind, audience: device.profile.audience, rate_hz: device.rate_hz, clock: device.clock,
         places: device.profile.families.values.map { |family| {label: family.label, count: family.there} }}
      end

      # Lanes of a cable that carry a source, each way.
      def used(show, cable)
        device, name = cable.a.split("/")
        shared = show.rig.devices[device].profile.ports[name]
        show.graph.edges.count { |edge| edge.kind == :cable && cable_lane?(edge, device, shared) && Soundcheck::Sources.row_behind(show, edge.from).then { |id| show.rows.key?(id) || id.start_with?("songs/") } }
      end

      def cable_lane?(edge, device, port) = [edge.from, edge.to].any? { |id| id.start_with?("#{device}/#{port.lanes_in}/", "#{device}/#{port.lanes_out}/") }

      def port(show, name)
        device, port = name.split("/")
        show.rig.devices[device].profile.ports[port]
      end
      private_class_method :tracks, :track_data, :device_data, :used, :cable_lane?, :port
    end
  end
end
