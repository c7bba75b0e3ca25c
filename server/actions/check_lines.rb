# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # What is done in a guided line check, from whichever page. What names a source is refused where it is
      # another one's turn by now: a press on an old page does nothing to the wrong row.
      class CheckLines
        # @param linechecks [Store::Beside]
        # @param workspaces [Workspaces]
        # @param on_air [Store::OnAir]
        # @param clock [#call] => Time
        def initialize(linechecks:, workspaces:, on_air:, clock:)
          @linechecks, @workspaces, @on_air, @clock = linechecks, workspaces, on_air, clock
        end

        # @param wish [Hash] "do" and what that takes, string keys, as LinecheckWish says
        # @param who [String]
        # @return [Store::Beside::Kept]
        # @raise [BadInput]
        def call(show_id, wish, who)
          show = @workspaces[show_id].show
          on_air!(show_id) if %w[start measure].include?(wish["do"])
          @linechecks.change(show_id) { |state| done(state, show, wish, who) }
        end

        # @param arrivals [Array<Ear::Arrival>] in the order in which they came
        def heard(show_id, arrivals)
          show = @workspaces[show_id].show
          at = @clock.call.utc.iso8601(3)
          @linechecks.change(show_id) { |state| arrivals.reduce(state) { |now, arrival| now.heard(show, arrival, at: at) } }
        end

        private

        def done(state, show, wish, who)
          case wish["do"]
          when "start" then state.begun(show, who)
          when "stop" then state.stopped
          when "order" then state.with(order: wish.fetch("order"))
          when "free" then state.with(free: wish.fetch("on"))
          when "measure" then state.with(measuring: true, listening: false)
          when "aim" then state.with(**{aim_dbfs: wish["dbfs"], full_scale_dbu: wish["full_scale_dbu"]}.compact)
          when "seen" then state.with(hums: {}.freeze)
          when "turn" then state.turned(row(show, wish))
          when "again" then again(state, show, wish)
          else found(state, show, wish, who)
          end
        end

        # "skip" and "nothing": what people say of the source whose turn it is.
        def found(state, show, wish, who)
          row = row(show, wish)
          turn!(state, show, row)
          at = @clock.call.utc.iso8601(3)
          (wish["do"] == "skip") ? state.left(show, row, who: who, at: at) : state.judged(show, row, who: who, at: at, place: "nothing")
        end

        def again(state, show, wish)
          rows = wish.fetch("rows").each { |id| row(show, {"row" => id}) }
          state.reopened(rows)
        end

        def row(show, wish)
          return wish["row"] if show.rows.key?(wish["row"])

          raise BadInput.new(field: "row", value: wish["row"], allowed: "a source of this show's input list")
        end

        def turn!(state, show, row)
          return if state.turn(show) == row

          now = state.turn(show)
          raise BadInput.new(field: "row", value: show.label(row), allowed: now ? "the source whose turn it is: meanwhile that is #{show.rows[now].number} #{show.label(now)}" : "a source whose turn it is; none is left")
        end

        # Only what is captured can be heard.
        def on_air!(show_id)
          return if @on_air.on_air?(show_id)

          raise BadInput.new(field: "show", value: show_id, allowed: "the show on air: its desk and its lanes are heard; put this one on air first")
        end
      end
    end
  end
end
