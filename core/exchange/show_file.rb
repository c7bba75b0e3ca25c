# frozen_string_literal: true

require "json_schemer"

module Loomshuttle
  module Exchange
    # The show file (*.loom.json): a show as JSON and back.
    #
    #   ShowFile.new(schema: Shelf.show_schema, profiles: Shelf.profiles).parse(text)
    class ShowFile
      VERSION = 1
      # Faults listed of a bad file; a thousand more would help nobody.
      FAULTS_SHOWN = 8
      private_constant :FAULTS_SHOWN

      def initialize(schema:, profiles:)
        @schemer = JSONSchemer.schema(schema)
        @profiles = profiles
      end

      # @param text [String] JSON
      # @return [Show]
      # @raise [BadInput] naming the first faults by their place
      def parse(text)
        data = JSON.parse(text)
        check_version(data)
        faults = @schemer.validate(data).first(FAULTS_SHOWN).map { |fault| "#{fault["data_pointer"].then { |place| place.empty? ? "/" : place }}: #{fault["error"]}" }
        if faults.any?
          raise BadInput.new(field: "show file",
            value: faults.first,
            allowed: faults.drop(1).unshift("see docs/formats/loom.schema.json").join("; "))
        end

        build(data)
      rescue JSON::ParserError => e
        raise BadInput.new(field: "show file", value: e.message.lines.first.to_s.strip[0, 80], allowed: "it must be whole JSON")
      end

      # @return [String] JSON, stable in its order
      def self.write(show) = JSON.pretty_generate(data(show)) + "\n"

      # @return [Hash] plain data in the shape of the schema
      def self.data(show)
        {version: VERSION, name: show.name, venue: show.venue, sample_rate_hz: show.sample_rate_hz,
         **%w[profiles devices cables rows tracks roles songs].to_h { |part| [part.to_sym, Show::Parts.read(show, part).values.map { |value| PartData.encode(part, value) }] },
         **%w[scenes accepted].to_h { |part| [part.to_sym, show.public_send(part).transform_values { |value| PartData.encode(part, value) }] },
         names: show.names, landed: show.landed, patch: patch_data(show.patch), check: check_data(show.check)}
      end

      def self.patch_data(patch)
        {slots: patch.slots.transform_values { |take| take.to_h.compact }, plugs: patch.plugs,
         sends: patch.sends.transform_values { |mixes| mixes.transform_values(&:to_h) },
         **Show::Parts::FLAGS.to_h { |flag| [flag.to_sym, patch.public_send(flag).to_a.sort] }}
      end

      def self.check_data(state)
        {home: state.home.transform_values { |take| take&.to_h&.compact }, opened: state.opened, keep: state.keep, turned: state.turned}
      end

      def self.check(data)
        home = data.fetch("home", {}).transform_values { |take| take && Patch::Pick.from_h(take) }
        Patch::Swung.new(home: home.freeze, **%w[opened keep turned].to_h { |list| [list.to_sym, data.fetch(list, []).freeze] })
      end

      # @param data [Hash] string keys, in the shape of the schema's `patch`
      # @return [Patch::Scene]
      def self.patch(data)
        Patch::Scene.new(slots: data.fetch("slots", {}).transform_values { |take| Patch::Pick.from_h(take) }.freeze,
          plugs: data.fetch("plugs", {}).freeze,
          sends: data.fetch("sends", {}).transform_values { |mixes| mixes.transform_values { |send| Patch::Send.from_h(send) }.freeze }.freeze,
          **Show::Parts::FLAGS.to_h { |flag| [flag.to_sym, data.fetch(flag, []).to_set.freeze] })
      end

      # @param data [Hash] already valid, string keys
      # @return [Show]
      # @raise [BadInput] where places that it names are not there
      def build(data)
        profiles = @profiles.merge(list(data, "profiles", @profiles).to_h { |profile| [profile.name, profile.with(own: true)] }).freeze
        rig = Rig::Layout.new(devices: list(data, "devices", profiles).to_h { |device| [device.id, device] }.freeze, cables: cables(data, profiles))
        rows, tracks, roles, songs = %w[rows tracks roles songs].map { |part| list(data, part, profiles) }
        Show.new(name: data["name"],
          venue: data.fetch("venue", ""),
          sample_rate_hz: data["sample_rate_hz"],
          rig: rig,
          profiles: profiles,
          patch: self.class.patch(data["patch"]),
          rows: rows.sort_by(&:number).to_h { |row| [row.id, row] }.freeze,
          tracks: tracks.to_h { |track| [track.id, track] }.freeze,
          roles: roles.to_h { |role| [role.name, role] }.freeze,
          names: data.fetch("names", {}).freeze,
          songs: songs.freeze,
          check: self.class.check(data.fetch("check", {})),
          landed: data.fetch("landed", {}).freeze,
          **%w[scenes accepted].to_h { |part| [part.to_sym, keyed(data, part)] }).tap { |show| check_places(show, show.patch, "patch") }
      end

      private

      def check_version(data)
        version = data.is_a?(Hash) ? data["version"] : nil
        return if version == VERSION

        newer = version.is_a?(Integer) && version > VERSION
        raise BadInput.new(field: "version",
          value: version,
          allowed: newer ? "this program reads version #{VERSION}; a newer one wrote this file" : "it must be #{VERSION}")
      end

      def list(data, part, profiles) = data.fetch(part, []).map { |given| PartData.decode(part, given, profiles) }
      def keyed(data, part) = data.fetch(part, {}).transform_values { |given| PartData.decode(part, given, @profiles) }.freeze

      def cables(data, profiles)
        data.fetch("cables", []).each { |given| [given["a"], given["b"]].each { |name| check_port(data, name, profiles) } }
          .map { |given| PartData.decode("cables", {"kind" => "", "length_m" => 0}.merge(given), profiles) }.freeze
      end

      def check_port(data, name, profiles)
        device, port = name.split("/")
        given = data["devices"].find { |item| item["id"] == device }
        ports = given ? profiles[given["profile"]]&.ports&.keys.to_a : []
        unless ports.include?(port)
          raise BadInput.new(field: "cables", value: name, allowed: "a device/port of this show#{": " + ports.join(", ") if ports.any?}")
        end
      end

      # Every place that a patch names must be one that the rig can name.
      def check_places(show, patch, at)
        patch.slots.each do |slot, take|
          wrong(show, "#{at}/slots", slot) unless show.rig.place(slot)&.field
          wrong(show, "#{at}/slots/#{slot}/from", take.from) unless known?(show, take.from)
        end
        patch.plugs.each do |row, socket|
          wrong(show, "#{at}/plugs", row) unless show.rows.key?(row)
          wrong(show, "#{at}/plugs/#{row}", socket) unless show.rig.named?(socket)
        end
        patch.sends.each { |from, mixes| [from, *mixes.keys].each { |id| wrong(show, "#{at}/sends", id) unless show.rig.named?(id) } }
      end

      def known?(show, id) = show.rig.named?(id) || (id.start_with?("songs/role/") && show.roles.key?(Endpoint.parse(id).number.to_s))

      def wrong(show, field, id)
        raise(BadInput.new(field: field, value: id, allowed: "a place of this show's rig (#{show.rig.devices.keys.join(", ")})"))
      end
    end
  end
end
