# frozen_string_literal: true

module Loomshuttle
  class Show
    # Roles together, each at a level of its own, laid on lanes like a role: everything in stereo for the stream, the band
    # inside the drummer's click, two roles that share a lane.
    #
    # id       says nothing and never changes
    # members  role's endpoint => level in dB
    # pair     meant for two lanes, left and right; on one it is summed
    Mix = Value.of(:id, :name, members: {}.freeze, pair: true) do
      def endpoint = Endpoint.id("songs", "mix", id)
      def roles = members.keys.map { |id| Endpoint.number(id).to_s }
    end

    class Mix
      LEVEL_DB = (-60.0..12.0)
      NAME_LENGTH_MAX = 60
      COUNT_MAX = 64
    end
  end
end
