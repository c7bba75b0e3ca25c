# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Adds several devices at once and joins each by its usual cable: the first free ports of one digital
    # standard, towards the desk. The desk leads the clock, the others follow the port that they are joined by.
    Furnish = Edit.of("furnish", profiles: :ids) do
      def apply(show)
        unknown = profiles.find { |name| !show.profiles.key?(name) }
        return Refusal.new(field: "profiles", value: unknown, allowed: show.profiles.keys.join(", "), why: "There is no profile \"#{unknown}\" to make a device of.") if unknown
        return Refusal.new(field: "profiles", value: profiles.size, allowed: "1 to #{Furnish::DEVICES_MAX}", why: "One to #{Furnish::DEVICES_MAX} devices are added at once.") unless profiles.size.between?(1, Furnish::DEVICES_MAX)

        profiles.sort_by { |name| (show.profiles[name].kind == "desk") ? 0 : 1 }.reduce(show) do |now, name|
          after = added(now, show.profiles[name])
          return after if after.is_a?(Refusal)

          after
        end
      end

      private

      def added(show, profile)
        id = (1..).lazy.map { |n| (n == 1) ? short(profile) : "#{short(profile)}-#{n}" }.find { |one| !show.rig.devices.key?(one) }
        made = SetDevice.new(id: id, profile: profile.name, name: name(show, profile)).apply(show)
        return made if made.is_a?(Refusal)

        profile.ports.values.any?(&:digital?) ? joined(made, id) : made
      end

      # What people call them when there is one of each.
      def short(profile) = {"desk" => "desk", "box" => "box", "computer" => "rec"}.fetch(profile.kind, profile.name[0, 50])

      def name(show, profile)
        same = show.rig.devices.values.count { |device| device.profile.name == profile.name }
        same.zero? ? Words::Runs.capital(profile.label) : "#{Words::Runs.capital(profile.label)} #{same + 1}"
      end

      def joined(show, id)
        device = show.rig.devices[id]
        return SetDevice.new(id: id, clock: "leader").apply(show) if device.profile.kind == "desk" && show.rig.all_of("desk").size == 1

        own, other = usual(show, device)
        return show unless own

        laid = SetCable.new(a: "#{id}/#{own.name}", b: other).apply(show)
        laid.is_a?(Refusal) ? laid : SetDevice.new(id: id, clock: own.name).apply(laid)
      end

      # The first of its ports that fits a free one of a desk.
      #
      # @return [Array(Rig::Port, String), nil]
      def usual(show, device)
        used = show.rig.cables.flat_map { |cable| [cable.a, cable.b] }
        free = show.rig.all_of("desk").flat_map { |desk| desk.profile.ports.values.select(&:digital?).map { |port| [port.standard, "#{desk.id}/#{port.name}"] } }
          .reject { |_, id| used.include?(id) }
        device.profile.ports.values.select(&:digital?).each do |port|
          _, there = free.find { |standard, id| standard == port.standard && !id.start_with?("#{device.id}/") }
          return [port, there] if there
        end
        nil
      end
    end

    class Furnish
      DEVICES_MAX = 12
    end
  end
end
