# frozen_string_literal: true

module Loomshuttle
  module Rig
    # What a kind of device has: places, fields, fixed wires and ports. Data, one YAML
    # file each; profiles are generic, by size and block behaviour.
    #
    # kind      desk, box, computer, listener
    # audience  for listeners: audience, performers or crew
    # mixes     which families a channel can be sent to
    # wires     fixed joins inside the device, family to family, number by number
    Profile = Value.of(:name, :label, :kind, :audience, :families, :fields, :wires, :ports, :mixes) do
      # @param data [Hash] as parsed from YAML, string keys
      def self.from_h(data)
        new(name: data.fetch("name"), label: data.fetch("label"), kind: data.fetch("kind"),
          audience: data["audience"], mixes: data.fetch("mixes", []).freeze,
          families: data.fetch("families").map { |item| family(item) }.to_h { |f| [f.name, f] }.freeze,
          fields: data.fetch("fields", []).map { |item| field(item) }.to_h { |f| [f.family, f] }.freeze,
          wires: data.fetch("wires", []).map { |wire| wire.transform_keys(&:to_sym).freeze }.freeze,
          ports: data.fetch("ports", []).map { |item| port(item) }.to_h { |p| [p.name, p] }.freeze)
      end

      def self.family(item)
        Family.new(name: item.fetch("name"), label: item.fetch("label"), count: item.fetch("count"),
          kind: item.fetch("kind"), present: item["present"], prefixed: item.fetch("prefixed", false),
          taps: item.fetch("taps", []).freeze)
      end

      def self.field(item)
        Field.new(family: item.fetch("family"), block: item.fetch("block", 1), opens: item.fetch("opens", false),
          takes: item.fetch("takes").freeze, delay_max_ms: item.fetch("delay_max_ms", 0))
      end

      def self.port(item)
        Port.new(name: item.fetch("name"), standard: item.fetch("standard"), lanes_in: item["lanes_in"],
          lanes_out: item["lanes_out"], lanes: item.fetch("lanes"))
      end
      private_class_method :family, :field, :port

      def listener? = kind == "listener"
    end
  end
end
