# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Sends a signal on one lane after the other, so that each is found at the desk, and keeps what was heard where.
      class LineUp
        ANSWER_S = 20
        KEY = "lineup/"
        private_constant :ANSWER_S, :KEY

        # @param lineups [Store::Beside]
        # @param workspaces [Workspaces]
        # @param on_air [Store::OnAir]
        # @param running [RunningTake]
        # @param deck [Links::ControlLink]
        # @param sounds [LineUpSounds]
        def initialize(lineups:, workspaces:, on_air:, running:, deck:, sounds:)
          @lineups, @workspaces, @on_air, @running, @deck, @sounds = lineups, workspaces, on_air, running, deck, sounds
        end

        # @return [Hash] version, lines; what sounds is told with what plays
        def look(show_id)
          kept = @lineups.of(show_id)
          {version: kept.version, lines: Loomshuttle::Lineup::Lines.of(@workspaces[show_id].show, kept.state)}
        end

        # It goes round until another lane is asked for, or none.
        #
        # @param wish [Hash] lane (nil for none), kind, level_dbfs; over_take where somebody was told that a take runs
        # @raise [BadInput, Needed] nothing sounds
        def sound(show_id, wish)
          return stop unless wish["lane"]

          show = show_on_air(show_id)
          lane = wish["lane"]
          known = Loomshuttle::Lineup::Lines.lanes(show)
          raise BadInput.new(field: "lane", value: lane, allowed: known.empty? ? "a lane that takes a role; none does" : known.join(", ")) unless known.include?(lane)

          refuse_busy
          refuse_over_take(wish["over_take"])
          ask(lane, wish.fetch("kind", "beeps"), wish.fetch("level_dbfs", -20))
        end

        # @param wish [Hash] lane, right (nil takes it off), where
        def tick(show_id, wish, who)
          show = @workspaces[show_id].show
          lanes = Loomshuttle::Lineup::Lines.lanes(show)
          raise BadInput.new(field: "lane", value: wish["lane"], allowed: lanes.join(", ")) unless lanes.include?(wish["lane"])

          tick = {right: wish["right"], carries: show.patch.slots[wish["lane"]]&.from, who: who.empty? ? "somebody" : who, where: wish["where"].to_s}
          @lineups.change(show_id) { |state| state.ticked(wish["lane"], **tick) }
        end

        private

        def playing = @deck.ask({do: "status"})["playing"]

        def stop = playing&.then { |now| @deck.ask({do: "stop"}) if now["key"].to_s.start_with?(KEY) }

        # A song that is about to begin by itself would not: what plays has nothing behind it then.
        def refuse_busy
          deck = @deck.ask({do: "status"})
          now = deck["playing"] || (deck["next"] if deck.dig("next", "in_s"))
          return if now.nil? || now["key"].to_s.start_with?(KEY)

          raise BadInput.new(field: "lane", value: now["label"], allowed: "nothing else playing or about to begin: stop it first")
        end

        def refuse_over_take(over_take)
          running = !over_take && @running.now or return

          raise Needed.new("Take #{running["take"]["number"]} runs. The signal is on lanes that it may record.")
        end

        def show_on_air(id) = @workspaces.show_on_air(id, @on_air)

        def ask(lane, kind, level_dbfs)
          rate_hz = @deck.ask({do: "status"})["rate_hz"] || @workspaces[@on_air.show_id].show.sample_rate_hz
          number = Endpoint.number(lane)
          voice = {key: lane, pieces: [{path: @sounds.path(number, kind, rate_hz)}], lanes: [number], gain_db: level_dbfs - Loomshuttle::Lineup::Beeps::PEAK_DBFS}
          @deck.ask({do: "play", label: "Line-up, lane #{number}", key: "#{KEY}#{lane}", rate_hz: rate_hz, voices: [voice], loop: [0]}, seconds: ANSWER_S)
        end
      end
    end
  end
end
