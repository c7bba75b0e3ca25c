# frozen_string_literal: true

module Loomshuttle
  module Exchange
    # What a show file says that no show can mean, though its shape is right: doubled ids, things that
    # name others that are not there, modes, settings and taps that the gear has not, numbers beyond
    # all bounds. All of it at once, each with its place, value and what is allowed.
    #
    #   Meaning.of(show, data)   # => [BadInput, ...]
    module Meaning
      # More would help nobody.
      FAULTS_SHOWN = 40
      # Larger than any number that a show file needs (frames of a song of a day at 96 kHz).
      NUMBER_MAX = 10**10
      RESERVED = %w[list songs].freeze
      private_constant :FAULTS_SHOWN, :NUMBER_MAX, :RESERVED

      module_function

      # What can be seen before anything is built.
      #
      # @return [Array<BadInput>]
      def of_data(data) = [*texts_and_numbers(data, ""), *doubled(data)].first(FAULTS_SHOWN)

      # @param show [Show] built of it
      # @return [Array<BadInput>]
      def of(show, data)
        [*devices(show), *cables(show), *rows(show), *tracks(show), *songs(show), *role_lanes(show), *patch(show, show.patch, "patch"), *named(show, data)].first(FAULTS_SHOWN)
      end

      def texts_and_numbers(value, at)
        case value
        when Hash then value.flat_map { |key, one| [*text(key, at), *texts_and_numbers(one, "#{at}/#{key}")] }
        when Array then value.each_with_index.flat_map { |one, index| texts_and_numbers(one, "#{at}/#{index}") }
        when String then text(value, at)
        when Numeric then (value.to_f.finite? && value.abs <= NUMBER_MAX) ? [] : [fault(at, value.to_s, "a number up to #{NUMBER_MAX}")]
        else []
        end
      end

      def text(value, at)
        value.match?(/[[:cntrl:]]/) ? [fault(at, value, "text without control characters")] : []
      end

      def doubled(data)
        lists = {"devices" => "id", "rows" => "id", "tracks" => "id", "songs" => "id", "roles" => "name", "mixes" => "id", "profiles" => "name"}
        found = lists.flat_map { |list, key| twice(list, key, data.fetch(list, []).map { |item| item[key] }) }
        numbers = (data["version"] == 1) ? [] : twice("rows", "number", data.fetch("rows", []).map { |row| row["number"] })
        found + numbers + twice("tracks", "place", data.fetch("tracks", []).map { |track| track["place"] }.compact)
      end

      def twice(list, key, values)
        values.compact.tally.select { |_, count| count > 1 }.keys.map { |value| fault("#{list}/#{key}", value, "each #{key} once") }
      end

      # Their maps and clicks say what can be counted.
      def songs(show)
        show.library.values.filter_map do |song|
          Show::Section.all_of(song.sections)
          Show::Arrangement.all_of(song.arrangements, song.sections)
          song.click_style.checked(song.map) if song.map
          nil
        rescue BadInput => e
          fault("songs/#{song.id}/#{e.field}", e.value, e.allowed)
        end
      end

      # Roles that a song has on lanes of its own, and mixes of roles.
      def role_lanes(show)
        lanes = show.set_list.values.flat_map { |listed| listed.roles.flat_map { |role, terms| terms.lanes.to_a.map { |lane| ["set_list/#{listed.song}/roles/#{role}/lanes", lane] } } }
        members = show.mixes.values.flat_map { |mix| mix.members.keys.map { |role| ["mixes/#{mix.id}/members", role] } }
        [*lanes.filter_map { |at, lane| fault(at, lane, "a lane out of this show's rig that takes roles") unless show.rig.named?(lane) && show.rig.field_of(lane)&.takes?("role") },
          *members.filter_map { |at, role| fault(at, role, "a role of this show: #{show.roles.keys.join(", ")}") unless Signal::Trace.known?(show, role) }]
      end

      def devices(show)
        show.rig.devices.values.flat_map do |device|
          at = "devices/#{device.id}"
          profile = device.profile
          clocks = ["leader", *profile.ports.values.select(&:digital?).map(&:name)]
          [(fault(at, device.id, "another id: list and songs are kept for rows and roles") if RESERVED.include?(device.id)),
            (fault("#{at}/clock", device.clock, clocks.join(", ")) unless device.clock.nil? || clocks.include?(device.clock)),
            *device.modes.filter_map { |port, mode| fault("#{at}/modes/#{port}", mode, profile.ports[port]&.modes&.keys&.join(", ") || "ports of this device: #{profile.ports.keys.join(", ")}") unless profile.ports[port]&.modes&.key?(mode) },
            *device.settings.filter_map { |name, value| fault("#{at}/settings/#{name}", value, profile.settings[name]&.choices&.join(", ") || "settings of this device: #{profile.settings.keys.join(", ")}") unless profile.settings[name]&.choices&.include?(value) }].compact
        end
      end

      def cables(show)
        show.rig.cables.filter_map do |cable|
          alone = show.rig.with(cables: [].freeze)
          refusal = Rig::Plugging.refuse(alone, cable.a, cable.b)
          next fault("cables/#{cable.id}", refusal.value, refusal.allowed) if refusal

          fault("cables/#{cable.id}/length_m", cable.length_m, "0 to 5000 m") unless (0..5000).cover?(cable.length_m)
        end
      end

      def rows(show)
        show.rows.values.filter_map do |row|
          fault("rows/#{row.id}/pair", row.pair, "another row of this show") if row.pair && (row.pair == row.id || !show.rows.key?(row.pair))
        end
      end

      def tracks(show)
        show.tracks.values.flat_map do |track|
          [(fault("tracks/#{track.id}/place", track.place, "a track of a recording computer of this show") unless show.rig.kind_of(track.place) == "track"),
            (fault("tracks/#{track.id}/row", track.row, "a row of this show") unless track.row.nil? || show.rows.key?(track.row))].compact
        end
      end

      # Places were looked at when it was built.
      def patch(show, patch, at)
        [*patch.slots.flat_map { |slot, pick| slot_faults(show, slot, pick, "#{at}/slots/#{slot}") },
          *patch.plugs.filter_map { |row, socket| fault("#{at}/plugs/#{row}", socket, "a microphone socket") unless Endpoint.parse(socket).family == "mic" },
          *patch.sends.flat_map { |from, mixes| mixes.filter_map { |mix, send| send_fault(show, from, mix, send, "#{at}/sends/#{from}/#{mix}") } },
          *patch.opened.filter_map { |slot| fault("#{at}/opened", slot, "the first slot of a block") unless show.rig.field_of(slot)&.blocks? },
          *patch.turned.filter_map { |place| fault("#{at}/turned", place, "a channel with a second set, or a desk that has one") unless turns?(show, place) },
          *(patch.splits | patch.powered).filter_map { |socket| fault("#{at}/splits or powered", socket, "a socket of this rig") unless show.rig.named?(socket) }]
      end

      def slot_faults(show, slot, pick, at)
        field = show.rig.field_of(slot)
        taps = show.rig.family_of(pick.from)&.taps || []
        takable = Signal::Route.takable?(field, Endpoint.parse(slot), pick.from)
        [(fault("#{at}/from", pick.from, "what this slot can take: #{field.takes.join(", ")} of its own device") unless takable),
          (fault("#{at}/tap", pick.tap, taps.empty? ? "no tap" : taps.join(", ")) unless pick.tap.nil? || taps.include?(pick.tap)),
          (fault("#{at}/delay_ms", pick.delay_ms, "0 to #{field.delay_max_ms} ms") unless pick.delay_ms.between?(0, [field.delay_max_ms, 0].max)),
          (fault(at, pick.from, "its block in line: one to one from one block of sources, or opened") unless Patch::Block.in_line?(show, slot))].compact
      end

      def send_fault(show, from, mix, send, at)
        place = show.rig.place(from)
        mixes = place.device.profile.assigns.fetch(place.family.name, [])
        to = Endpoint.parse(mix)
        return fault(at, mix, mixes.empty? ? "nothing: this place is sent nowhere" : "#{mixes.join(", ")} of #{place.device.id}") unless to.device == place.device.id && mixes.include?(to.family)
        return fault("#{at}/tap", send.tap, place.family.taps.join(", ")) unless place.family.taps.include?(send.tap)

        fault("#{at}/level_db", send.level_db, "#{Patch::Send::LEVELS_DB.min} to #{Patch::Send::LEVELS_DB.max} dB") unless Patch::Send::LEVELS_DB.cover?(send.level_db)
      end

      def turns?(show, place)
        device = show.rig.devices[place]
        return device.profile.holds == "desk" if device

        known = show.rig.place(place)
        known&.kind == "channel" && known.device.profile.holds == "channel"
      end

      # What is called, noted or remembered must be there.
      def named(show, data)
        [*show.names.keys.filter_map { |id| fault("names", id, "a place of this show's rig") unless show.rig.named?(id) },
          *show.landed.flat_map { |mix, sockets| [mix, *sockets].reject { |id| show.rig.named?(id) }.map { |id| fault("landed/#{mix}", id, "places of this show's rig") } },
          *Show::Parts["swung"].mentions(show.swung).reject { |id| show.rig.named?(id) || show.rig.devices.key?(id) || id.start_with?("songs/") }
            .map { |id| fault((data["version"] == 1) ? "check" : "swung", id, "places of this show's rig") }]
      end

      def fault(field, value, allowed) = BadInput.new(field: field.delete_prefix("/"), value: value, allowed: allowed)
      private_class_method :texts_and_numbers, :text, :doubled, :twice, :devices, :cables, :rows, :tracks, :patch, :slot_faults, :send_fault, :turns?, :named, :fault
    end
  end
end
