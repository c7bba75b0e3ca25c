# frozen_string_literal: true

module Loomshuttle
  module Server
    # Plain data for the browser, computed from the core.
    module Views
      module_function

      # @param kept [Store::Shows::Kept]
      # @param findings [Array<Checks::Finding>]
      def show(kept, findings:)
        show = kept.show
        {id: kept.id,
         version: kept.version,
         name: show.name,
         venue: show.venue,
         date: show.date,
         sample_rate_hz: show.sample_rate_hz,
         feed: Signal::Feed.of_desk(show),
         swung: show.swung.swung?,
         keep: show.swung.keep,
         desks: show.rig.all_of("desk").map { |desk| {id: desk.id, name: desk.name, feed: Signal::Feed.of_desk(show, desk.id)} },
         leader: Loomshuttle::Rig::Clock.of(show.rig).leaders.first&.name,
         findings: findings.map(&:to_data),
         rows: rows(show),
         pairs_offered: Loomshuttle::Capture::Pairs.offered(show.rows).map(&:to_h),
         sockets: sockets(show),
         tracks: tracks(show),
         roles: show.roles.values.map(&:to_h),
         scenes: show.scenes.keys,
         songs: show.songs.map { |song| song(show, song) }}
      end

      def rows(show)
        channels = Signal::Sources.channel_names(show)
        show.rows.values.map do |row|
          socket = show.patch.plugs[row.id]
          row.to_h.merge(pair_number: show.rows[row.pair]&.number,
            socket: socket,
            socket_label: socket && show.rig.label(socket),
            channels: channels.fetch(row.id, []),
            powered: show.patch.powered.include?(socket))
        end
      end

      # What pages need of a song: where its bars and sections lie when it plays, and what the set list says of it.
      def song(show, song)
        layout, played = song.layout, Show::Played.of(show, song)
        sections = played.sections.map { |one, range| {**one.to_h, from_frame: range.begin, to_frame: range.end} }
        voices = voices(show, song)
        known = song.to_h.slice(:id, :title, :bpm, :beats_per_bar, :count_in_bars, :sample_rate_hz, :length_frames)
        of_evening = {arrangements: song.arrangements.map { |one| one["name"] }, listed: show.set_list[song.id].to_h.except(:song, :roles), lost_arrangement: played.lost, percent: song.percent,
                      tempi: song.tempi.keys.map(&:to_i).sort, at_tempi: at_tempi(show, song)}
        {**known, playing_frames: played.frames, bars: layout.to_bar && layout.to_bar - 1, sections: sections, roles: song.stems.map(&:role).uniq, voices: voices, **of_evening}
      end

      # A song that plays may be at another tempo than its list says by now.
      def at_tempi(show, song)
        return [] if song.tempi.empty?

        [100, *song.tempi.keys.map(&:to_i)].uniq.map do |percent|
          played = show.at_tempo(song.id, percent).then { |at| Show::Played.of(at, at.song(song.id)) }
          {percent: percent, playing_frames: played.frames, sections: played.sections.map { |_, range| [range.begin, range.end] }}
        end
      end

      # What sounds of a song, each with the numbers of its lanes; none where its role has none.
      def voices(show, song)
        Show::SongVoices.parts(song).map do |key, stem, role|
          playing = Show::PlayingRole.of(show, role, song.id)
          {key: key, name: stem&.name || role, role: role, lanes: [*playing.slots, *playing.also.flat_map(&:first)].uniq.map { |id| Endpoint.number(id) }}
        end
      end

      # Where a row can be plugged in: on the rig alone, so it is worked out once a rig.
      def sockets(show)
        show.rig.once(:sockets) do
          show.rig.places.values.select { |place| place.family.name == "mic" && place.present? }.map do |place|
            {id: place.id, label: show.rig.label(place.id), short: "#{place.device.name} #{place.number}"}
          end
        end
      end

      # @param drifted [Patch::Scene, nil] what the desk has, where it differs
      # @param fault [String, nil] why the desk did not follow the last edit
      def desk(show, drifted, fault)
        changes = drifted ? Compare::Patches.desk(show, show.patch, drifted) : []
        {count: changes.sum { |change| change[:places].size },
         fault: fault,
         changes: changes,
         fields: changes.map { |change| change[:field] }.uniq.map { |name| {name: name, label: Patch::Fields.label(show, name)} }}
      end

      # Who feeds which channel and what goes back on which lane is worked out once for all
      # tracks, not once a track.
      def tracks(show)
        channels = Signal::Sources.channels(show).invert
        show.tracks.values.map { |track| track_data(show, track, channels[track.row]) }
      end

      def track_data(show, track, channel)
        lane = show.patch.slots[track.place]&.from
        row = show.rows[track.row]
        {id: track.id,
         place: track.place,
         number: track.number,
         name: track.name,
         armed: track.armed,
         lane: lane && Endpoint.parse(lane).number,
         return_lane: Signal::Returns.lane(show, track.place),
         beside: Signal::Returns.beside(show)[track.place]&.id,
         sum_db: Signal::Returns.sum_db(show, track),
         row: track.row,
         colour: row&.colour,
         stitch: row&.stitch,
         channel: channel,
         feed: channel && Signal::Feed.of(show, channel)}
      end
      private_class_method :rows, :voices, :sockets, :tracks, :track_data
    end
  end
end
