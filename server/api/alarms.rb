# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # What went wrong and stays said until somebody has seen it.
      module Alarms
        def self.registered(app)
          app.get("/api/alarms") { json alarms.list }
          app.post "/api/alarms/seen" do
            who = author.who.empty? ? "an engineer" : author.who
            given["keys"].each { |key| alarms.see(key, who, clock.call) }
            json alarms.list
          end
        end
      end
    end
  end
end
