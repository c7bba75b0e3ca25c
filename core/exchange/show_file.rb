# frozen_string_literal: true

require "json_schemer"

module Loomshuttle
  module Exchange
    # The show file (*.loom.json): a show as JSON and back. What it is made of is told by the
    # show's parts. Files of version 1 are read too.
    #
    #   ShowFile.new(schemas: Shelf.show_schemas, profiles: Shelf.profiles).parse(text)
    class ShowFile
      VERSION = 2
      # Faults listed of a bad file; a thousand more would help nobody.
      FAULTS_SHOWN = 8
      PARTS = Show::Parts::ALL.group_by(&:form).freeze
      private_constant :FAULTS_SHOWN, :PARTS

      # @param schemas [Hash{Integer => Hash}] JSON Schemas by version
      def initialize(schemas:, profiles:)
        # Made when a file of that version comes: each takes some milliseconds.
        @schemers = Hash.new { |made, version| made[version] = JSONSchemer.schema(schemas.fetch(version)) }
        @schemas, @profiles = schemas, profiles
      end

      # @param text [String] JSON
      # @param rules [Boolean] whether what no plan may have is refused; a desk that was switched off in the middle of a
      #   change may have it
      # @return [Show]
      # @raise [BadInput] naming the first faults by their place
      def parse(text, rules: true)
        data = JSON.parse(readable(text))
        faults = @schemers[version(data)].validate(data).first(FAULTS_SHOWN).map { |fault|
          "#{fault["data_pointer"].then { |place|
            place.empty? ? "/" : place
          }}: #{fault["error"]}"
        }
        if faults.any?
          raise BadInput.new(field: "show file",
            value: faults.first,
            allowed: faults.drop(1).unshift("see docs/formats/loom-#{data["version"]}.schema.json").join("; "))
        end

        refuse(Meaning.of_data(data))
        build(data).tap { |show| refuse(Meaning.of(show, data)) if rules }
      rescue JSON::ParserError => e
        raise BadInput.new(field: "show file", value: e.message.lines.first.to_s.strip[0, 80], allowed: "it must be whole JSON")
      end

      # @return [String] JSON, stable in its order
      def self.write(show) = JSON.pretty_generate(data(show)) + "\n"

      # @return [Hash] plain data in the shape of the schema
      def self.data(show)
        lists, maps = PARTS.values_at(:list, :map).map { |parts| parts.to_h { |part| [part.name.to_sym, part.read(show).transform_values { |value| part.encode(value) }] } }
        about = Show::Parts["about"].read(show).reject { |name, value| name == "date" && value.empty? }
        {version: VERSION, **about.transform_keys(&:to_sym), **lists.transform_values(&:values), **library(show), **maps,
         patch: Show::Parts.patch_data(show.patch), swung: Show::Parts["swung"].encode(show.swung)}
      end

      # What a show knows of the library: a file of its own must say it.
      def self.library(show) = {roles: show.roles.values.map(&:to_data), songs: show.library.values.map(&:to_data)}
      private_class_method :library

      # @param data [Hash] already valid, string keys
      # @return [Show]
      # @raise [BadInput] where places that it names are not there
      def build(data)
        data = Version1.document(data) if version(data) == 1
        # Before songs were the library's, those of a file were its set list.
        data = {"set_list" => data.fetch("songs", []).map { |song| song["id"] }}.merge(data)
        own = list(data, "profiles", @profiles).to_h { |profile| [profile.name, profile] }
        profiles = @profiles.merge(own).freeze
        listed = listed(data, profiles)
        data.fetch("cables", []).each { |given| [given["a"], given["b"]].each { |name| check_port(listed["devices"], name) } }
        empty = Show.new(name: data["name"], venue: data.fetch("venue", ""), date: data.fetch("date", ""), sample_rate_hz: data["sample_rate_hz"], profiles: profiles,
          roles: data.fetch("roles", []).to_h { |role| [role["name"], Show::Role.new(**role.transform_keys(&:to_sym))] }.freeze,
          library: data.fetch("songs", []).to_h { |song| [song["id"], Show::Song.from_h(song)] }.freeze,
          rig: Rig::Layout.new(devices: {}.freeze, cables: [].freeze), patch: Show::Parts.patch(data["patch"]),
          swung: Show::Parts["swung"].decode(data.fetch("swung", {}), profiles))
        Show::Parts.put(empty, listed.merge(mapped(data, profiles))).tap { |show| check_places(show, show.patch, "patch") }
      end

      private

      # A byte-order mark is fine; what is no UTF-8 is not.
      def readable(text)
        plain = text.dup.force_encoding(Encoding::UTF_8).delete_prefix("\uFEFF")
        return plain if plain.valid_encoding?

        raise BadInput.new(field: "show file", value: plain.scrub("?")[/[^?]{0,20}\?[^?]{0,20}/], allowed: "text in UTF-8")
      end

      def refuse(faults)
        raise BadInput.together(faults) if faults.any?
      end

      def version(data)
        version = data.is_a?(Hash) ? data["version"] : nil
        return version if @schemas.key?(version)

        newer = version.is_a?(Integer) && version > VERSION
        raise BadInput.new(field: "version",
          value: version,
          allowed: newer ? "this program reads versions up to #{VERSION}; a newer one wrote this file" : "it must be #{VERSION}")
      end

      def list(data, name, profiles) = data.fetch(name, []).map { |given| Show::Parts[name].decode(given, profiles) }

      # Values of a list are keyed by what each calls its own.
      def listed(data, profiles)
        (PARTS[:list].map(&:name) - ["profiles"]).to_h { |name| [name, list(data, name, profiles).to_h { |value| [Show::Parts[name].key(value), value] }] }
      end

      def mapped(data, profiles)
        PARTS[:map].to_h { |part| [part.name, data.fetch(part.name, {}).transform_values { |given| part.decode(given, profiles) }] }
      end

      def check_port(devices, name)
        device, port = name.split("/")
        ports = devices[device]&.profile&.ports&.keys.to_a
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

      def known?(show, id) = show.rig.named?(id) || (id.start_with?("songs/") && Signal::Trace.known?(show, id))

      def wrong(show, field, id)
        raise(BadInput.new(field: field, value: id, allowed: "a place of this show's rig (#{show.rig.devices.keys.join(", ")})"))
      end
    end
  end
end
