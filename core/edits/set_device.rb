# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Adds a device to the rig, or changes its name, clock, rate, port modes or settings.
    # Fields that are left out stay as they are; a new device needs a profile.
    class SetDevice < Edit.of("device", id: :id, name: [:text, :kept], profile: [:id, :kept], clock: [:id, :kept], rate_hz: [:whole, :kept], modes: [:words, :kept], settings: [:numbers, :kept])
      def apply(show)
        before = show.rig.devices[id]
        refusal = refuse_shape(show, before)
        return refusal if refusal

        device = made(show, before)
        refuse_device(show, device) || show.with(rig: show.rig.with(devices: show.rig.devices.merge(id => device).freeze))
      end

      # @return [Hash{String => Object}] what is given
      def changes = to_h.except(:id).reject { |_, value| value == :kept }.transform_keys(&:to_s)

      private

      def made(show, before)
        base = before || Rig::Device.new(id: id,
          name: changes["name"] || id,
          profile: show.profiles[changes["profile"]],
          rate_hz: rate_of_new(show),
          clock: nil)
        base.with(**changes.slice("name", "rate_hz", "clock").transform_keys(&:to_sym),
          modes: base.modes.merge(changes["modes"] || {}).freeze,
          settings: base.settings.merge(changes["settings"] || {}).freeze)
      end

      # What has digital ports has a clock.
      def rate_of_new(show) = show.profiles[changes["profile"]].ports.values.any?(&:digital?) ? show.sample_rate_hz : nil

      def refuse_shape(show, before)
        unless id.match?(/\A[a-z0-9][a-z0-9-]{0,59}\z/) && !%w[list songs].include?(id)
          return Refusal.of("id",
            id,
            "small letters, digits and dashes, at most 60",
            "\"#{id}\" cannot name a device; small letters, digits and dashes can.")
        end
        return refuse_swap(show, before) if before && changes.key?("profile") && changes["profile"] != before.profile.name
        return nil if before || show.profiles.key?(changes["profile"])

        Refusal.of("profile",
          changes["profile"],
          show.profiles.keys.join(", "),
          "There is no profile \"#{changes["profile"]}\" to make #{id} of.")
      end

      def refuse_swap(_show, before)
        Refusal.of("profile",
          changes["profile"],
          before.profile.name,
          "#{before.name} is a #{before.profile.label}; take it out and add another to change what it is.")
      end

      def refuse_device(show, device)
        refuse_name(device) || refuse_rate(device) || refuse_clock(device) || refuse_modes(device) || refuse_settings(device)
      end

      def refuse_name(device)
        fault = Capture::Row.fault(:name, device.name.to_s)
        fault && Refusal.of("name", device.name, fault, "A device's name has #{fault}.")
      end

      def refuse_rate(device)
        return nil if device.rate_hz.nil? || Audio::Scale::SAMPLE_RATES_HZ.include?(device.rate_hz)

        Refusal.of("rate_hz", device.rate_hz, Audio::Scale::SAMPLE_RATES_HZ.join(", "), "#{device.rate_hz} Hz is no sample rate of this trade.")
      end

      def refuse_clock(device)
        choices = ["leader", *device.profile.ports.values.select(&:digital?).map(&:name)]
        return nil if device.clock.nil? || choices.include?(device.clock)

        Refusal.of("clock",
          device.clock,
          choices.join(", "),
          "#{device.name} cannot follow through \"#{device.clock}\"; it can lead, or follow through: #{choices.drop(1).join(", ")}.")
      end

      def refuse_modes(device)
        device.modes.each do |port_name, mode|
          port = device.profile.ports[port_name] or return Refusal.of("modes",
            port_name,
            device.profile.ports.keys.join(", "),
            "#{device.name} has no port #{port_name}.")
          unless port.modes.key?(mode)
            return Refusal.of("modes/#{port_name}",
              mode,
              port.modes.keys.join(", "),
              "#{device.name} #{port_name} has no mode \"#{mode}\"; it has: #{port.modes.keys.join(", ")}.")
          end
        end
        nil
      end

      def refuse_settings(device)
        device.settings.each do |name, value|
          setting = device.profile.settings[name] or return Refusal.of("settings",
            name,
            device.profile.settings.keys.join(", "),
            "#{device.name} has no setting #{name}.")
          unless setting.choices.include?(value)
            return Refusal.of("settings/#{name}",
              value,
              setting.choices.join(", "),
              "#{device.name}: #{setting.label} can be #{setting.choices.join(", ")}, not #{value}.")
          end
        end
        nil
      end
    end
  end
end
