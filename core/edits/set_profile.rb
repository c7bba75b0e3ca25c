# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Makes an own profile for this show, or changes one; devices made of it follow. With
    # `data` nil it is deleted.
    SetProfile = Edit.of("profile", name: :id, data: [:object, nil]) do
      def apply(show)
        return shipped if show.profiles[name] && !show.profiles[name].own
        return delete(show) unless data

        profile = Rig::ProfileForm.parse(data.merge("name" => name)).with(own: true)
        changed = with_profile(show, profile)
        refuse_patched(show, changed) || changed
      rescue BadInput => e
        Refusal.new(field: e.field, value: e.value, allowed: e.allowed, why: e.message)
      end

      private

      def shipped
        Refusal.new(field: "name",
          value: name,
          allowed: "a name of its own",
          why: "\"#{name}\" is shipped and stays as it is; copy it under another name.")
      end

      def delete(show)
        users = show.rig.devices.values.select { |device| device.profile.name == name }
        unless show.profiles.key?(name)
          return Refusal.new(field: "name",
            value: name,
            allowed: "an own profile of this show",
            why: "There is no own profile \"#{name}\".")
        end
        if users.any?
          return Refusal.new(field: "name",
            value: name,
            allowed: "a profile that no device is made of",
            why: "#{users.map(&:name).join(", ")} #{(users.size == 1) ? "is" : "are"} made of it; take that out first.")
        end

        show.with(profiles: show.profiles.except(name).freeze)
      end

      def with_profile(show, profile)
        devices = show.rig.devices.transform_values { |device| (device.profile.name == name) ? device.with(profile: profile) : device }
        rig = (devices == show.rig.devices) ? show.rig : show.rig.with(devices: devices.freeze)
        show.with(profiles: show.profiles.merge(name => profile).freeze, rig: rig)
      end

      # Nothing that is patched or cabled may lose its place.
      def refuse_patched(show, changed)
        used = [*show.patch.slots.keys, *show.patch.slots.values.map(&:from), *show.patch.plugs.values, *show.tracks.values.map(&:place)]
        lost = used.find { |id| show.rig.place(id) && !changed.rig.place(id) }
        lost ||= show.rig.cables.flat_map(&:ends).find { |name| !changed.rig.port(name) }
        lost && Refusal.new(field: "data",
          value: lost,
          allowed: "a profile that still has what is patched",
          why: "#{show.rig.place(lost) ? show.label(lost) : lost} is in use and would be gone; clear it first.")
      end
    end
  end
end
