# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # What is recorded now, and how.
      module Capture
        def self.registered(app)
          transport(app)
          app.get("/api/session") { json context.session.to_h }
          app.put("/api/session") { json session_kept }
          app.get("/api/places") { json @capture.places }
          app.get("/api/disk") { json disk }
          app.get("/api/devices") { json context.engine.ask({do: "devices"}) }
          app.put("/api/device") { json ok: choose }
          app.post("/api/device/terms") { json terms }
          app.post("/api/round-trip") { json @play.measure(given["lane_out"], given["lane_in"]) }
          app.helpers Helpers
        end

        def self.transport(app)
          app.post("/api/capture/start") { json @capture.start }
          app.post("/api/capture/stop") { json ok: @capture.stop }
          app.post("/api/capture/mark") { json @capture.mark(given["label"].to_s) }
          app.post("/api/capture/reset") { json ok: @capture.reset_peaks(given["lanes"]) }
          app.get("/api/ribbon") { json context.engine.ask({do: "ribbon"}, seconds: 2) }
        end
        private_class_method :transport

        # What only these routes need.
        module Helpers
          def session_kept
            name = "session/#{context.show_id}"
            context.settings.write(name, context.settings.read(name).merge(given))
            context.hub.publish("takes", session: true)
            context.session.to_h
          end

          # Another device ends what the engine has open, so a running take is in its way.
          def choose
            take = context.running_take
            raise Needed, "Take #{take.dig("take", "number")} runs. Another device, rate or buffer would break it off." if take && !given["during_take"]

            context.engine.ask({do: "choose", device: given["device"]})
          end

          def terms
            wished = Loomshuttle::Capture::DeviceTerms.new(**given.slice("rate_hz", "block_frames", "lanes_in").transform_keys(&:to_sym))
            tracks = context.session.tracks(show)
            {says: wished.says(now: open_terms, sides: tracks.select(&:armed).sum { |track| track.lanes.size }),
             warns: wished.warns(plan_lanes: tracks.flat_map(&:lanes), show_rate_hz: show.sample_rate_hz)}
          end

          def open_terms
            device = context.engine.last("status")&.fetch("device") or return
            return unless device["rate_hz"] && device["block_frames"]

            Loomshuttle::Capture::DeviceTerms.new(rate_hz: device["rate_hz"], block_frames: device["block_frames"], lanes_in: device["lanes"])
          end

          def disk
            session = context.session
            sides = session.tracks(show).select(&:armed).sum { |track| track.lanes.size }
            free = context.free_bytes
            left_s = free && Loomshuttle::Capture::DiskBudget.seconds_left(free, sides, show.sample_rate_hz, margin_bytes: session.margin_bytes, bytes: session.sample_bytes)
            {free_bytes: free, armed: sides, seconds_left: left_s, planned_s: session.planned_s}
          end
        end
      end
    end
  end
end
