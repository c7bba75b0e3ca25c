# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Adds a device to the rig, or changes its name, clock, rate, port modes or settings.
    # Fields that are left out stay as they are; a new device needs a profile.
    class SetDevice < Value.of(:id, :changes)
      include Reversed

      def self.from_h(hash) = new(id: hash.fetch("id").to_s, changes: hash.except("kind", "id").freeze)
      def to_data = {kind: "device", id: id, **changes.transform_keys(&:to_sym)}

      def apply(show)
        before = show.rig.devices[id]
        refusal = refuse_shape(show, before)
        return refusal if refusal

        device = made(show, before)
        refuse_device(show, device) || show.with(rig: show.rig.with(devices: show.rig.devices.merge(id => device).freeze))
      end

      private

      def made(show, before)
        base = before || Rig::Device.new(id: id,
          name: changes["name"] || id,
          profile: show.profiles[changes["profile"]],
          rate_hz: rate_of_new(show),
          clock: nil)
        base.with(**{name: changes["name"], rate_hz: changes["rate_hz"]}.compact,
          **(changes.key?("clock") ? {clock: changes["clock"]} : {}),
          modes: base.modes.merge(changes.fetch("modes", {})).freeze,
          settings: base.settings.merge(changes.fetch("settings", {})).freeze)
      end

      # What has digital ports has a clock.
      def rate_of_new(show) = show.profiles[changes["profile"]].ports.values.any?(&:digital?) ? show.sample_rate_hz : nil

      FIELDS = %w[name profile clock rate_hz modes settings].freeze
      private_constant :FIELDS

      def refuse_shape(show, before)
        unknown = changes.keys - FIELDS
        return refuse(unknown.first, changes[unknown.first], FIELDS.join(", "), "A device has no \"#{unknown.first}\".") if unknown.any?
        unless id.match?(/\A[a-z0-9][a-z0-9-]{0,59}\z/) && !%w[list songs].include?(id)
          return refuse("id",
            id,
            "small letters, digits and dashes, at most 60",
            "\"#{id}\" cannot name a device; small letters, digits and dashes can.")
        end
        return refuse_swap(show, before) if before && changes.key?("profile") && changes["profile"] != before.profile.name
        return nil if before || show.profiles.key?(changes["profile"])

        refuse("profile",
          changes["profile"],
          show.profiles.keys.join(", "),
          "There is no profile \"#{changes["profile"]}\" to make #{id} of.")
      end

      def refuse_swap(_show, before)
        refuse("profile",
          changes["profile"],
          before.profile.name,
          "#{before.name} is a #{before.profile.label}; take it out and add another to change what it is.")
      end

      def refuse_device(show, device)
        refuse_name(device) || refuse_rate(device) || refuse_clock(device) || refuse_modes(device) || refuse_settings(device)
      end

      def refuse_name(device)
        fault = Capture::Row.fault(:name, device.name.to_s)
        fault && refuse("name", device.name, fault, "A device's name has #{fault}.")
      end

      def refuse_rate(device)
        return nil if device.rate_hz.nil? || Audio::Scale::SAMPLE_RATES_HZ.include?(device.rate_hz)

        refuse("rate_hz", device.rate_hz, Audio::Scale::SAMPLE_RATES_HZ.join(", "), "#{device.rate_hz} Hz is no sample rate of this trade.")
      end

      def refuse_clock(device)
        choices = ["leader", *device.profile.ports.values.select(&:digital?).map(&:name)]
        return nil if device.clock.nil? || choices.include?(device.clock)

        refuse("clock",
          device.clock,
          choices.join(", "),
          "#{device.name} cannot follow through \"#{device.clock}\"; it can lead, or follow through: #{choices.drop(1).join(", ")}.")
      end

      def refuse_modes(device)
        device.modes.each do |port_name, mode|
          port = device.profile.ports[port_name] or return refuse("modes",
            port_name,
            device.profile.ports.keys.join(", "),
            "#{device.name} has no port #{port_name}.")
          unless port.modes.key?(mode)
            return refuse("modes/#{port_name}",
              mode,
              port.modes.keys.join(", "),
              "#{device.name} #{port_name} has no mode \"#{mode}\"; it has: #{port.modes.keys.join(", ")}.")
          end
        end
        nil
      end

      def refuse_settings(device)
        device.settings.each do |name, value|
          setting = device.profile.settings[name] or return refuse("settings",
            name,
            device.profile.settings.keys.join(", "),
            "#{device.name} has no setting #{name}.")
          unless setting.choices.include?(value)
            return refuse("settings/#{name}",
              value,
              setting.choices.join(", "),
              "#{device.name}: #{setting.label} can be #{setting.choices.join(", ")}, not #{value}.")
          end
        end
        nil
      end

      def refuse(field, value, allowed, why) = Refusal.new(field: field, value: value, allowed: allowed, why: why)
    end
  end
end
