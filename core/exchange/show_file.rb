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
        raise BadInput.new(field: "show file", value: faults.first, allowed: faults.drop(1).unshift("see docs/formats/loom.schema.json").join("; ")) if faults.any?

        build(data)
      rescue JSON::ParserError => e
        raise BadInput.new(field: "show file", value: e.message.lines.first.to_s.strip[0, 80], allowed: "it must be whole JSON")
      end

      # @return [String] JSON, stable in its order
      def self.write(show) = JSON.pretty_generate(data(show)) + "\n"

      # @return [Hash] plain data in the shape of the schema
      def self.data(show)
        {version: VERSION, name: show.name, venue: show.venue, sample_rate_hz: show.sample_rate_hz,
         devices: show.rig.devices.values.map { |device| device.to_h.merge(profile: device.profile.name) },
         cables: show.rig.cables.map(&:to_h), rows: show.rows.values.map(&:to_h), tracks: show.tracks.values.map(&:to_h),
         roles: show.roles.values.map(&:to_h), names: show.names,
         songs: show.songs.map { |song| song.to_h.merge(stems: song.stems.map(&:to_h)) },
         patch: patch_data(show.patch), check: check_data(show.check), accepted: show.accepted.transform_values(&:to_h)}
      end

      def self.patch_data(patch)
        {slots: patch.slots.transform_values { |take| take.to_h.compact }, plugs: patch.plugs,
         sends: patch.sends.transform_values { |mixes| mixes.transform_values(&:to_h) },
         opened: patch.opened.to_a.sort, splits: patch.splits.to_a.sort}
      end

      def self.check_data(state)
        {home: state.home.transform_values { |take| take&.to_h&.compact }, opened: state.opened, keep: state.keep}
      end
      private_class_method :check_data

      # @param data [Hash] string keys, in the shape of the schema's `patch`
      # @return [Patch::Scene]
      def self.patch(data)
        Patch::Scene.new(slots: data.fetch("slots", {}).transform_values { |take| Patch::Take.from_h(take) }.freeze,
          plugs: data.fetch("plugs", {}).freeze,
          sends: data.fetch("sends", {}).transform_values { |mixes| mixes.transform_values { |send| Patch::Send.from_h(send) }.freeze }.freeze,
          opened: data.fetch("opened", []).to_set.freeze, splits: data.fetch("splits", []).to_set.freeze)
      end

      # @param data [Hash] already valid, string keys
      # @return [Show]
      # @raise [BadInput] where places that it names are not there
      def build(data)
        rig = Rig::Layout.new(devices: devices(data), cables: cables(data))
        Show.new(name: data["name"], venue: data.fetch("venue", ""), sample_rate_hz: data["sample_rate_hz"], rig: rig,
          patch: self.class.patch(data["patch"]), rows: keyed(data["rows"], Capture::Row), tracks: keyed(data["tracks"], Capture::Track),
          roles: keyed(data["roles"], Show::Role, :name), names: data.fetch("names", {}).freeze, songs: songs(data), check: check(data),
          accepted: data.fetch("accepted", {}).transform_values { |given| value(Show::Acceptance, given) }.freeze).tap { |show| check_places(show) }
      end

      private

      def check_version(data)
        version = data.is_a?(Hash) ? data["version"] : nil
        return if version == VERSION

        newer = version.is_a?(Integer) && version > VERSION
        raise BadInput.new(field: "version", value: version, allowed: newer ? "this program reads version #{VERSION}; a newer one wrote this file" : "it must be #{VERSION}")
      end

      def devices(data)
        data["devices"].to_h do |given|
          profile = @profiles[given["profile"]] or raise BadInput.new(field: "devices/#{given["id"]}/profile", value: given["profile"], allowed: "one of #{@profiles.keys.join(", ")}")
          [given["id"], Rig::Device.new(id: given["id"], name: given["name"], profile: profile, rate_hz: given["rate_hz"], clock: given["clock"])]
        end.freeze
      end

      def cables(data)
        data.fetch("cables", []).each { |given| [given["a"], given["b"]].each { |name| check_port(data, name) } }
          .map { |given| value(Rig::Cable, {"kind" => "", "length_m" => 0}.merge(given)) }.freeze
      end

      def check_port(data, name)
        device, port = name.split("/")
        given = data["devices"].find { |item| item["id"] == device }
        ports = given ? @profiles[given["profile"]]&.ports&.keys.to_a : []
        raise BadInput.new(field: "cables", value: name, allowed: "a device/port of this show#{": " + ports.join(", ") if ports.any?}") unless ports.include?(port)
      end

      def keyed(list, type, key = :id) = (list || []).map { |given| value(type, given) }.to_h { |item| [item.public_send(key), item] }.freeze
      def value(type, given) = type.new(**given.transform_keys(&:to_sym))

      def songs(data)
        data.fetch("songs", []).map do |given|
          value(Show::Song, given.merge("stems" => given.fetch("stems", []).map { |stem| value(Show::Stem, stem) }.freeze))
        end.freeze
      end

      def check(data)
        given = data.fetch("check", {})
        home = given.fetch("home", {}).transform_values { |take| take && Patch::Take.from_h(take) }
        Soundcheck::State.new(home: home.freeze, opened: given.fetch("opened", []).freeze, keep: given.fetch("keep", []).freeze)
      end

      # Every place that the patch names must be one that the rig can name.
      def check_places(show)
        show.patch.slots.each do |slot, take|
          wrong(show, "patch/slots", slot) unless show.rig.field_of(slot) && show.rig.named?(slot)
          wrong(show, "patch/slots/#{slot}/from", take.from) unless known?(show, take.from)
        end
        show.patch.plugs.each do |row, socket|
          wrong(show, "patch/plugs", row) unless show.rows.key?(row)
          wrong(show, "patch/plugs/#{row}", socket) unless show.rig.named?(socket)
        end
        show.patch.sends.each { |channel, mixes| [channel, *mixes.keys].each { |id| wrong(show, "patch/sends", id) unless show.rig.named?(id) } }
      end

      def known?(show, id) = show.rig.named?(id) || (id.start_with?("songs/role/") && show.roles.key?(Endpoint.parse(id).number.to_s))
      def wrong(show, field, id) = raise(BadInput.new(field: field, value: id, allowed: "a place of this show's rig (#{show.rig.devices.keys.join(", ")})"))
    end
  end
end
