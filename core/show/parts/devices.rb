# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # The gear.
      class Devices < Part
        def form = :list
        def ordered? = true
        def read(show) = show.rig.devices
        def put(show, values, moves) = show.with(rig: show.rig.with(devices: merged(read(show), values, moves)))
        def same?(before, after) = before.rig.equal?(after.rig) || before.rig.devices.equal?(after.rig.devices)
        def encode(value) = value.to_h.merge(profile: value.profile.name)

        # @raise [BadInput] for a profile that nobody has
        def decode(data, profiles)
          profile = profiles[data["profile"]] or raise BadInput.new(field: "devices/#{data["id"]}/profile",
            value: data["profile"],
            allowed: "one of #{profiles.keys.join(", ")}")
          Rig::Device.new(rate_hz: nil, clock: nil, **data.transform_keys(&:to_sym),
            profile: profile, modes: data.fetch("modes", {}).freeze, settings: data.fetch("settings", {}).freeze)
        end

        def subject(_show, _key, value) = value.name
      end
    end
  end
end
