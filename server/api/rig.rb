# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # The gear: what is there, what a cable or another sample rate would do, profiles.
      module Rig
        def self.registered(app)
          app.get("#{SHOW}/rig") { json Views::Rig.of(show) }
          app.get("#{SHOW}/rig/rate") { json Loomshuttle::Screens::RateForecast.of(show, Integer(params["rate_hz"])) }

          app.get "#{SHOW}/rig/cable" do
            forecast = Loomshuttle::Screens::CableForecast.of(show, params["a"], params["b"])
            json forecast.is_a?(Refusal) ? {fits: false, sentence: forecast.why} : {fits: true, sentence: forecast}
          end

          app.get "#{SHOW}/profiles/:name" do
            profile = show.profiles[params["name"]] or raise BadInput.new(field: "profile", value: params["name"], allowed: show.profiles.keys.join(", "))
            json profile.to_data
          end
        end
      end
    end
  end
end
