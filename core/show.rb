# frozen_string_literal: true

module Loomshuttle
  # Everything that an engineer plans for one show. The checks, the traces, the recorder
  # and the screens are all computed from this one value.
  #
  # date      when it takes place, ISO 8601 ("2026-11-28"), empty where nobody said
  # rows      row id => Capture::Row, by number     the input list
  # tracks    track id => Capture::Track
  # set_list  song id => Listed          in the order of the evening
  # library   song id => Song            what is known of the songs, of those of the set list at least; not the
  #                                      show's own
  # roles     name => Role               of the library: those that its songs or its patch use
  # mixes     mix id => Mix              roles together
  # role_terms  role's name => Terms     where the show says otherwise than the library
  # swung     Patch::Swung             what the swing remembers
  # names     endpoint id => what the show calls it (buses, mostly)
  # accepted  finding key => Acceptance
  # scenes    name => Patch::Scene       named patches beside the present one
  # landed    mix id => [socket id]      where mixes are meant to leave, once somebody said so
  # profiles  name => Rig::Profile       what devices can be made of: shipped ones and own
  class Show < Value.of(:name,
    :venue,
    :sample_rate_hz,
    :rig,
    :patch,
    date: "",
    rows: {}.freeze,
    tracks: {}.freeze,
    set_list: {}.freeze,
    library: {}.freeze,
    roles: {}.freeze,
    mixes: {}.freeze,
    role_terms: {}.freeze,
    names: {}.freeze,
    swung: Patch::Swung.new,
    accepted: {}.freeze,
    scenes: {}.freeze,
    landed: {}.freeze,
    profiles: {}.freeze)
    include Value::Memo

    # The role of every song's click, which is made and has no file.
    CLICK_ROLE = "click"
    # The role of what is read out to the band.
    CUE_ROLE = "cue"
    NO_CHANNELS = Set.new.freeze
    NO_TRACKS = [].freeze
    private_constant :NO_CHANNELS, :NO_TRACKS

    # Most edits change a few joins only: what was made of the others goes along.
    def with(**changes)
      super.tap do |changed|
        changed.once(:kept) { keepings }
        changed.once(:sends) { sends } if @memo.key?(:sends) && changed.patch.sends.equal?(patch.sends) && changed.mixes.equal?(mixes) && changed.set_list.equal?(set_list)
        {laid: :laid_before, graph: :graph_before}.each do |made, kept|
          before = @memo[made] || @memo[kept]
          changed.once(kept) { before } if before
        end
      end
    end

    # What hangs on a few values alone goes along from show to show as long as these are the very same:
    # most edits leave most of what is known as it is.
    #
    # @param key [Object] names what is computed
    # @param values [Array<Object>] what it hangs on
    def kept(key, values)
      known = keepings[key]
      return known.last if known && known.first.size == values.size && known.first.each_with_index.all? { |value, i| value.equal?(values[i]) }

      yield.tap { |made| keepings[key] = [values, made] }
    end

    # @return [Array<Song>] of the set list, in its order, as far as they are known
    def songs = once(:songs) { set_list.each_key.filter_map { |id| song(id) }.freeze }

    # @return [Song, nil] one of the library, at the tempo that the set list has it
    def song(id) = library[id]&.at(set_list[id]&.percent)

    # The show with one of its songs at another tempo.
    #
    # @param percent [Integer, nil] nil for as it is
    # @return [Show]
    def at_tempo(id, percent)
      listed = set_list[id]
      return self if listed.nil? || percent.nil? || (listed.percent || 100) == percent

      with(set_list: set_list.merge(id => listed.with(percent: (percent unless percent == 100))).freeze)
    end

    # @return [Signal::Laid]
    def laid = once(:laid) { Signal::Laid.of(self, @memo.delete(:laid_before)) }

    # @return [Signal::Sends]
    def sends = once(:sends) { Signal::Sends.new(patch.sends, Signal::RoleWays.edges(self)) }

    # The joins of this show.
    #
    # @return [Signal::Graph]
    def graph = once(:graph) { Signal::Graph.new(self, @memo.delete(:graph_before)) }

    def label(endpoint_id)
      return rows[endpoint_id].name if rows.key?(endpoint_id)
      if rig.place(endpoint_id)
        return names.key?(endpoint_id) ? "#{names[endpoint_id]} (#{rig.label(endpoint_id)})" : rig.label(endpoint_id)
      end

      endpoint = Endpoint.parse(endpoint_id)
      {"list/row" => "a row that is gone", "songs/role" => "role #{endpoint.number}", "songs/mix" => "mix #{mixes[endpoint.number.to_s]&.name || "that is gone"}"}.fetch(endpoint.field) { rig.label(endpoint_id) }
    end

    # @return [Capture::Track, nil] the track at a slot of the recorder
    def track_at(place_id) = once(:track_at) { tracks.values.reverse.to_h { |track| [track.place, track] } }[place_id]

    # @return [Capture::Track, nil] the first track meant for a row
    def track_of_row(row_id) = tracks_of_row(row_id).first

    # @return [Array<Capture::Track>] all of them: two recorders record one row twice
    def tracks_of_row(row_id) = once(:tracks_of_row) { tracks.values.group_by(&:row) }.fetch(row_id, NO_TRACKS)

    # @return [String, nil] the first row that is plugged in at a socket
    def row_at(socket_id) = once(:row_at) { patch.plugs.sort_by { |row, _| -(rows[row]&.number || 0) }.to_h(&:reverse) }[socket_id]

    # Channels that are switched over to their second slot, each or the whole desk at once.
    #
    # @return [Set<String>]
    def turned_channels
      once(:turned) do
        patch.turned.empty? ? NO_CHANNELS : patch.turned.flat_map { |id| turned_by(id) }.select { |id| rig.place(id) }.to_set
      end
    end

    def turned?(slot_id) = turned_channels.include?(slot_id)

    # @return [String, nil] the slot of a channel's second set
    def second_slot(channel_id)
      place = rig.place(channel_id)
      second = place.device.profile.second
      second && Endpoint.id(place.device.id, second, place.number)
    end

    # The places of a device's family, in order.
    #
    # @return [Array<String>]
    def places(device, family_name)
      family = device&.family(family_name) or return []
      (1..family.count).map { |number| Endpoint.id(device.id, family_name, number) }
    end

    def channels_of(device) = places(device, "channel")

    private

    def keepings = once(:kept) { {} }

    def turned_by(id) = rig.devices.key?(id) ? channels_of(rig.devices[id]) : [id]
  end
end
