# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Every lane found at the desk before the show.
      module Lineup
        def self.registered(app)
          app.get("#{SHOW}/lineup") { json @line_up.look(workspace.id) }
          app.post("#{SHOW}/lineup/sound") do
            @line_up.sound(workspace.id, given)
            json @line_up.look(workspace.id)
          end
          app.post("#{SHOW}/lineup/tick") do
            @line_up.tick(workspace.id, given, author.who)
            json @line_up.look(workspace.id)
          end
        end
      end
    end
  end
end
