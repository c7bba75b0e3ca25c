# frozen_string_literal: true

module Loomshuttle
  module Rig
    # What is wrong with a profile on its own, before any show uses it. Own profiles are
    # edited as data; each fault says which field, which value, what is allowed.
    #
    #   ProfileForm.faults(profile)   # => [{field:, value:, allowed:}]
    module ProfileForm
      KINDS = %w[desk box interface computer player listener].freeze
      FAMILY_KINDS = %w[socket lane channel feed bus main matrix output track listener].freeze
      TAPS = %w[raw in pre-eq post-eq pre-fader post-fader].freeze
      AUDIENCES = %w[audience performers crew].freeze
      HOLDS = %w[set channel desk].freeze
      # What data of a profile may say, part by part.
      KEYS = {"families" => %w[name label kind count present prefixed latency_samples taps],
              "fields" => %w[family block opens takes delay_max_ms],
              "ports" => %w[name standard lanes_in lanes_out lanes modes shared],
              "settings" => %w[name label choices default],
              "wires" => %w[from to count shift skip]}.freeze
      PROFILE_KEYS = %w[name label kind audience assigns holds second pairs own].freeze + KEYS.keys
      # More places of one kind than any desk has; a slip of the finger is found.
      COUNT_MAX = 512

      module_function

      # @param profile [Profile]
      # @return [Array<Hash>] empty when it can be used
      def faults(profile)
        general(profile) + profile.families.values.flat_map { |family| family_faults(family) } +
          profile.fields.values.flat_map { |field| field_faults(profile, field) } +
          profile.ports.values.flat_map { |port| port_faults(profile, port) } +
          profile.settings.values.flat_map { |setting| setting_faults(setting) } + profile.wires.flat_map { |wire| wire_faults(profile, wire) } + feed_faults(profile)
      end

      # Reads data of unknown shape.
      #
      # @return [Profile]
      # @raise [BadInput] naming the first fault
      def parse(data)
        profile = Profile.from_h(data)
        fault = stranger(data) || faults(profile).first
        raise BadInput.new(**fault) if fault

        profile
      rescue KeyError => e
        raise BadInput.new(field: "profile.#{e.key}", value: nil, allowed: "a profile needs it")
      rescue NoMethodError, TypeError, ArgumentError
        raise BadInput.new(field: "profile",
          value: data.is_a?(Hash) ? data["name"] : data,
          allowed: "name, label, kind, lists of families, fields, ports and wires (see core/rig/profiles)")
      end

      # A slip of the pen in a field's name would be lost without a word.
      def stranger(data)
        unknown = (data.keys - PROFILE_KEYS).first
        return fault(unknown, data[unknown], PROFILE_KEYS.join(", ")) if unknown

        KEYS.flat_map { |part, known| data.fetch(part, []).flat_map { |item| (item.keys - known).map { |key| [part, item, key] } } }
          .map { |part, item, key| fault("#{part}/#{item["name"] || item["family"] || item["from"]}/#{key}", item[key], KEYS[part].join(", ")) }.first
      end

      def general(profile)
        [one_of("kind", profile.kind, KINDS), one_of("holds", profile.holds, HOLDS),
          (one_of("audience", profile.audience, AUDIENCES) if profile.listener?),
          *([*profile.assigns.keys, *profile.mixes].uniq - profile.families.keys).map { |name| fault("assigns", name, "a family of this profile") },
          name_fault("name", profile.name),
          must(profile.label.to_s.size.between?(1, 60), "label", profile.label, "1 to 60 characters")].compact
      end

      def family_faults(family)
        at = "families/#{family.name}"
        unknown = family.taps - TAPS
        [one_of("#{at}/kind", family.kind, FAMILY_KINDS),
          must(count?(family.count), "#{at}/count", family.count, "1 to #{COUNT_MAX}"),
          must(family.latency_samples.is_a?(Integer) && family.latency_samples.between?(0, 100_000), "#{at}/latency_samples", family.latency_samples, "0 to 100000 samples"),
          must((0..family.count.to_i).cover?(family.present || 0), "#{at}/present", family.present, "0 to #{family.count}"),
          name_fault("#{at}/name", family.name),
          *unknown.map { |tap| fault("#{at}/taps", tap, TAPS.join(", ")) },
          must(unknown.any? || family.taps == TAPS & family.taps, "#{at}/taps", family.taps.join(", "), "in the order #{TAPS.join(", ")}")].compact
      end

      def count?(count) = count.is_a?(Integer) && count.between?(1, COUNT_MAX)

      def field_faults(profile, field)
        at = "fields/#{field.family}"
        family = profile.families[field.family] or return [fault(at, field.family, "a family of this profile: #{profile.families.keys.join(", ")}")]
        return [fault("#{at}/block", field.block, "a whole number from 1")] unless field.block.is_a?(Integer) && field.block.positive?

        divides = must((family.count % field.block).zero?, "#{at}/block", field.block,
          "blocks that divide its #{family.count} slots: #{divisors(family.count).join(", ")}")
        delay = must(field.delay_max_ms.is_a?(Numeric) && field.delay_max_ms.between?(0, 2000), "#{at}/delay_max_ms", field.delay_max_ms, "0 to 2000 ms")
        strangers = field.takes - profile.families.keys - ["*", "role"]
        [divides, delay, *strangers.map { |name| fault("#{at}/takes", name, "a family of this profile, or * for whatever is plugged in") }].compact
      end

      def divisors(count) = (1..count).select { |block| (count % block).zero? }

      def port_faults(profile, port)
        at = "ports/#{port.name}"
        standard = Standard[port.standard] or return [fault("#{at}/standard", port.standard, Standard::ALL.keys.join(", "))]
        return [fault("#{at}/modes", port.modes, "at least one mode, with its lanes")] if port.modes.empty?

        families = [port.lanes_in, port.lanes_out].compact.reject { |name| profile.families.key?(name) }
          .map { |name| fault(at, name, "a family of this profile") }
        families + port.modes.flat_map { |mode, lanes| lanes.filter_map { |rate, count| lane_fault(at, standard, mode, rate, count) } }
      end

      def lane_fault(at, standard, mode, rate, count)
        most = standard.lanes[rate] or return fault("#{at}/modes/#{mode}", rate, "48 or 96 (kHz)")
        unless count.is_a?(Integer) && count.between?(0, most)
          fault("#{at}/modes/#{mode}/#{rate}", count, "0 to #{most} lanes: #{standard.name} carries no more at #{rate} kHz")
        end
      end

      def wire_faults(profile, wire)
        missing = [wire[:from], wire[:to]].reject { |name| profile.families.key?(name) }
        return missing.map { |name| fault("wires", name, "a family of this profile") } if missing.any?

        unless [wire[:count], wire[:shift]].all?(Integer) && wire[:count].between?(1, COUNT_MAX) && (-COUNT_MAX..COUNT_MAX).cover?(wire[:shift])
          return [fault("wires/#{wire[:from]}", wire[:count], "a count from 1 to #{COUNT_MAX}, and a whole shift")]
        end
        if wire[:skip] && !profile.settings.key?(wire[:skip])
          return [fault("wires/#{wire[:from]}/skip", wire[:skip], "a setting of this profile: #{profile.settings.keys.join(", ")}")]
        end

        reached = wire[:count] + wire[:shift]
        most = profile.families[wire[:to]].count
        (reached > most) ? [fault("wires/#{wire[:from]}", reached, "numbers up to #{most} of #{wire[:to]}")] : []
      end

      def setting_faults(setting)
        at = "settings/#{setting.name}"
        whole = setting.choices.is_a?(Array) && setting.choices.any? && setting.choices.all? { |choice| choice.is_a?(Integer) && choice.between?(0, COUNT_MAX) }
        return [fault("#{at}/choices", setting.choices, "whole numbers from 0 to #{COUNT_MAX}")] unless whole

        [must(setting.choices.include?(setting.default), "#{at}/default", setting.default, setting.choices.join(", "))].compact
      end

      # A second set must be there where channels hold one.
      def feed_faults(profile)
        return [] if profile.holds == "set"

        channels = profile.families["channel"]&.count
        second = profile.families[profile.second]
        [must(second && second.count == channels && profile.fields.key?(profile.second), "second", profile.second,
          "a family with a field and as many slots as there are channels (#{channels})")].compact
      end

      def one_of(field, value, allowed) = allowed.include?(value) ? nil : fault(field, value, allowed.join(", "))
      def must(holds, field, value, allowed) = holds ? nil : fault(field, value, allowed)

      def name_fault(field, name)
        must(name.to_s.match?(/\A[a-z0-9][a-z0-9-]{0,59}\z/), field, name, "small letters, digits and dashes")
      end

      def fault(field, value, allowed) = {field: "profile/#{field}", value: value, allowed: allowed}
      private_class_method :stranger, :general, :family_faults, :count?, :field_faults, :divisors, :port_faults, :lane_fault, :setting_faults, :wire_faults, :feed_faults,
        :one_of, :must, :name_fault, :fault
    end
  end
end
