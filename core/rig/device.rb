# frozen_string_literal: true

module Loomshuttle
  module Rig
    # One piece of gear in this show: its profile and its settings.
    #
    # clock  "leader", the name of the port that it follows through, or nil (no clock: a
    #        loudspeaker)
    Device = Value.of(:id, :name, :profile, :rate_hz, :clock) do
      def listener? = profile.listener?
      def family(name) = profile.families[name]
      def field(name) = profile.fields[name]
    end
  end
end
