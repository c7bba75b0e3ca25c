# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Silence, taps and faults on a simulated stage. A real desk knows nothing of it, and says so.
      class Simulate
        # @param desk_link [Links::DeskLink]
        # @param on_air [Store::OnAir]
        # @param workspaces [Workspaces]
        def initialize(desk_link:, on_air:, workspaces:)
          @desk_link, @on_air, @workspaces = desk_link, on_air, workspaces
          @asked_again_s = Hash.new(0.0)
        end

        # @return [Hash] simulated, quiet, cut, planted
        def now(show_id)
          show = @workspaces[show_id].show
          # Whoever cut the simulated desk's line must find it here.
          found = asked(show_id, :simulation) { @desk_link.simulation } or return NONE
          {simulated: true, **found, planted: found[:planted].map { |one| by_row(show, one) }}
        end

        NONE = {simulated: false, quiet: false, cut: false, planted: []}.freeze
        # So long it is left in peace that answered nothing.
        ASK_AGAIN_S = 10
        private_constant :NONE, :ASK_AGAIN_S

        # @return [Hash{String => Float}, nil] preamps by socket, those at 0 dB left out; nil for a desk that tells of none
        def gains_db(show_id) = @desk_link.answers? ? asked(show_id, :controls) { @desk_link.controls[:gain] } : nil

        # @param row [String] id of the source
        # @param by_db [Integer]
        # @return [Float] the preamp's gain then
        # @raise [BadInput, Links::DeskLink::Failed]
        def turn_preamp(show_id, row, by_db)
          socket = @workspaces[show_id].show.patch.plugs[row] or raise BadInput.new(field: "row", value: row, allowed: "a source that is plugged in")
          gains = gains_db(show_id) or raise BadInput.new(field: "desk", value: nil, allowed: "a desk that takes gains by its control line; turn it by hand")
          wanted_db = (gains.fetch(socket, 0.0) + by_db).round(1)
          @desk_link.control("/gain", socket, wanted_db)
          wanted_db
        rescue Links::DeskLink::Refused => e
          raise BadInput.new(field: "by_db", value: by_db, allowed: "what the preamp goes to: #{e.message}")
        end

        # @param wish [Hash] "do" and what that takes, string keys, as SimulationWish says
        # @raise [BadInput, Links::DeskLink::Failed]
        def call(show_id, wish)
          raise BadInput.new(field: "show", value: show_id, allowed: "the show on air") unless @on_air.on_air?(show_id)

          @desk_link.simulate(*message(@workspaces[show_id].show, wish))
          now(show_id)
        rescue Links::DeskLink::Refused => e
          raise BadInput.new(field: wish["do"], value: wish["row"], allowed: "what this stage can simulate: #{e.message}")
        end

        private

        # A desk that knows nothing of this would cost every page a second and more, each time it asks.
        def asked(show_id, what)
          return nil unless @on_air.on_air?(show_id) && now_s >= @asked_again_s[what]

          yield
        rescue Links::DeskLink::Failed
          @asked_again_s[what] = now_s + ASK_AGAIN_S
          nil
        end

        def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)

        # Pages speak of sources; what is wrong on the way back is a channel's.
        def by_row(show, fault)
          RETURNING.include?(fault[:kind]) ? fault.merge(fault.slice(:row, :other).transform_values { |id| Signal::Sources.channels(show).fetch(id, id) }) : fault
        end

        def by_channel(show, kind, row)
          return row.to_s unless RETURNING.include?(kind) && show.rows.key?(row)

          Signal::Sources.channels(show).key(row) or raise BadInput.new(field: "row", value: row, allowed: "a source that has a channel")
        end

        RETURNING = %w[crossed return locked].freeze
        private_constant :RETURNING

        def message(show, wish)
          case wish["do"]
          when "quiet", "cut" then ["/#{wish["do"]}", wish.fetch("on") ? 1 : 0]
          when "tap" then ["/tap", wish.fetch("row")]
          when "plant" then ["/plant", wish.fetch("kind"), by_channel(show, wish["kind"], wish.fetch("row")), by_channel(show, wish["kind"], wish["other"])]
          else ["/unplant", wish["kind"].to_s, by_channel(show, wish["kind"], wish["row"])]
          end
        end
      end
    end
  end
end
