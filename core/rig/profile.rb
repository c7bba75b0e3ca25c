# frozen_string_literal: true

module Loomshuttle
  module Rig
    # What a kind of device has: places, fields, fixed wires and ports. Data, one YAML
    # file each; profiles are generic, by size and block behaviour.
    #
    # kind      desk, box, interface, computer, player (a computer that plays songs), listener
    # audience  for listeners: audience, performers or crew
    # assigns   which families can be sent to which mixes: {"channel" => ["bus", "main"]}
    # wires     fixed joins inside the device, family to family, number by number: `shift`
    #           is added to the number, `skip` names a setting whose value is left out first
    # holds     how channels hold their feed: "set" (one assignment, a swing rewrites it),
    #           "channel" (each has a second slot and a switch), "desk" (two whole sets and
    #           one switch)
    # second    the family of the second slots, where there is one
    # pairs     which neighbours the desk links to a stereo channel: "any", or "odd" for an odd
    #           number with the next even one
    # own       true for a copy that somebody made for this show
    class Profile < Value.of(:name,
      :label,
      :kind,
      :audience,
      :families,
      :fields,
      :wires,
      :ports,
      :assigns,
      settings: {}.freeze,
      holds: "set",
      second: nil,
      pairs: "any",
      own: false)
      # @param data [Hash] as parsed from YAML or a show file, string keys
      # @return [Profile] frozen all the way down
      # @raise [KeyError] where something is missing; ProfileForm says it in words before
      def self.from_h(data)
        new(name: data.fetch("name"),
          label: data.fetch("label"),
          kind: data.fetch("kind"),
          audience: data["audience"],
          assigns: data.fetch("assigns", {}).freeze,
          holds: data.fetch("holds", "set"),
          second: data["second"],
          pairs: data.fetch("pairs", "any"),
          own: data.fetch("own", false),
          families: keyed(data.fetch("families"), :name) { |item| family(item) },
          fields: keyed(data.fetch("fields", []), :family) { |item| field(item) },
          ports: keyed(data.fetch("ports", []), :name) { |item| port(item) },
          settings: keyed(data.fetch("settings", []), :name) { |item| setting(item) },
          wires: data.fetch("wires", []).map { |wire| {shift: 0, skip: nil, **wire.transform_keys(&:to_sym)}.freeze }.freeze)
      end

      def self.keyed(items, key) = items.map { |item| yield item }.to_h { |value| [value.public_send(key), value] }.freeze

      def self.family(item)
        Family.new(name: item.fetch("name"),
          label: item.fetch("label"),
          count: item.fetch("count"),
          kind: item.fetch("kind"),
          present: item["present"],
          prefixed: item.fetch("prefixed", false),
          latency_samples: item.fetch("latency_samples", 0),
          taps: item.fetch("taps", []).freeze)
      end

      def self.field(item)
        Field.new(family: item.fetch("family"), block: item.fetch("block", 1), opens: item.fetch("opens", false),
          takes: item.fetch("takes").freeze, delay_max_ms: item.fetch("delay_max_ms", 0))
      end

      def self.port(item)
        modes = item["modes"] || {"all" => item.fetch("lanes")}
        Port.new(name: item.fetch("name"),
          standard: item.fetch("standard"),
          lanes_in: item["lanes_in"],
          lanes_out: item["lanes_out"],
          modes: modes.transform_values { |lanes| lanes.transform_keys { |family| Integer(family) }.freeze }.freeze,
          shared: item.fetch("shared", false))
      end

      def self.setting(item)
        Setting.new(name: item.fetch("name"),
          label: item.fetch("label"),
          choices: item.fetch("choices").freeze,
          default: item.fetch("default"))
      end
      private_class_method :keyed, :family, :field, :port, :setting

      def listener? = kind == "listener"

      # Families that a channel, or a mix of channels, can be sent to.
      def mixes = assigns.values.flatten.uniq

      # @return [Hash] what `from_h` takes, string keys
      def to_data
        {"name" => name,
         "label" => label,
         "kind" => kind,
         "audience" => audience,
         "assigns" => assigns,
         "holds" => holds,
         "second" => second,
         "pairs" => pairs,
         "own" => own,
         "families" => plain(families),
         "fields" => plain(fields),
         "settings" => plain(settings),
         "ports" => plain(ports),
         "wires" => wires.map { |wire| wire.transform_keys(&:to_s) }}.compact
      end

      private

      def plain(values)
        values.values.map do |value|
          value.to_h.compact.transform_keys(&:to_s).then do |item|
            item["modes"] ? item.merge("modes" => item["modes"].transform_values { |lanes| lanes.transform_keys(&:to_s) }) : item
          end
        end
      end
    end
  end
end
