# frozen_string_literal: true

module Loomshuttle
  module Exchange
    # One value of a show's parts (Show::Parts) as plain JSON data and back.
    module PartData
      TYPES = {"rows" => Capture::Row,
               "tracks" => Capture::Track,
               "roles" => Show::Role,
               "cables" => Rig::Cable,
               "accepted" => Show::Acceptance}.freeze
      private_constant :TYPES

      module_function

      def encode(part, value)
        case part
        when nil then nil
        when "devices" then value&.then { |device| device.to_h.merge(profile: device.profile.name) }
        when "profiles" then value&.to_data
        when "songs" then value&.then { |song| song.to_h.merge(stems: song.stems.map(&:to_h)) }
        when "scenes" then value&.then { |patch| ShowFile.patch_data(patch) }
        when "check" then ShowFile.check_data(value)
        when "slots" then value&.to_h&.compact
        when "sends", *TYPES.keys then value&.to_h
        else value
        end
      end

      # @param data [Object] as parsed from JSON, string keys
      # @param profiles [Hash{String => Rig::Profile}] what devices can be made of
      def decode(part, data, profiles)
        return data if data.nil?

        case part
        when "devices" then device(data, profiles)
        when "profiles" then Rig::ProfileForm.parse(data)
        when "songs" then build(Show::Song, data.merge("stems" => data.fetch("stems", []).map { |stem| build(Show::Stem, stem) }.freeze))
        when "scenes" then ShowFile.patch(data)
        when "check" then ShowFile.check(data)
        when "slots" then Patch::Pick.from_h(data)
        when "sends" then Patch::Send.from_h(data)
        when *TYPES.keys then build(TYPES.fetch(part), data)
        else data.freeze
        end
      end

      def device(data, profiles)
        profile = profiles[data["profile"]] or raise BadInput.new(field: "devices/#{data["id"]}/profile",
          value: data["profile"],
          allowed: "one of #{profiles.keys.join(", ")}")
        build(Rig::Device, {"rate_hz" => nil, "clock" => nil}.merge(data,
          "profile" => profile,
          "modes" => data.fetch("modes", {}).freeze,
          "settings" => data.fetch("settings", {}).freeze))
      end

      def build(type, data) = type.new(**data.transform_keys(&:to_sym))
      private_class_method :device, :build
    end
  end
end
