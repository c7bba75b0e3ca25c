# frozen_string_literal: true

module Loomshuttle
  module Rig
    # One piece of gear in this show: its profile and its settings.
    #
    # clock     "leader", the name of the port that it follows through, or nil (no clock: a
    #           loudspeaker)
    # modes     port name => mode, where it is not the port's first
    # settings  setting name => number, where it is not the profile's default
    Device = Value.of(:id, :name, :profile, :rate_hz, :clock, modes: {}.freeze, settings: {}.freeze) do
      def listener? = profile.listener?
      def family(name) = profile.families[name]
      def field(name) = profile.fields[name]
      def setting(name) = settings.fetch(name) { profile.settings.fetch(name).default }
      def lanes_at(port, rate_hz) = port.lanes_at(rate_hz, modes[port.name])
      def digital? = !rate_hz.nil?
    end
  end
end
