# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # What is recorded now, and how.
      module Capture
        def self.registered(app)
          transport(app)
          app.get("#{SHOW}/session") { json workspace.session.to_h }
          app.put("#{SHOW}/session") { json workspace.keep_session(given).to_h }
          app.get("/api/places") { json @capture.places }
          app.get("#{SHOW}/disk") { json disk }
          app.get("/api/devices") { json engine.ask({do: "devices"}) }
          app.put("/api/device") { json ok: choose }
          app.post("#{SHOW}/device/terms") { json terms }
          app.post("#{SHOW}/round-trip") { json @play.measure(workspace.id, given["lane_out"], given["lane_in"]) }
          app.helpers Helpers
        end

        def self.transport(app)
          app.post("#{SHOW}/capture/start") { json @capture.start(workspace.id, on_recorder: given["on_recorder"] || false) }
          app.post("/api/capture/stop") { json ok: @capture.stop }
          app.post("/api/capture/mark") { json @capture.mark(given["label"].to_s) }
          app.post("/api/capture/reset") { json ok: @capture.reset_peaks(given["lanes"]) }
          app.get("/api/ribbon") { json engine.ask({do: "ribbon"}, seconds: 2) }
        end
        private_class_method :transport

        # What only these routes need.
        module Helpers
          # Another device ends what the engine has open, so a running take is in its way.
          def choose
            take = running.now
            raise Needed, "Take #{take.dig("take", "number")} runs. Another device, rate or buffer would break it off." if take && !given["during_take"]

            engine.ask({do: "choose", device: given["device"]})
          end

          def terms
            wished = Loomshuttle::Capture::DeviceTerms.new(**given.slice("rate_hz", "block_frames", "lanes_in").transform_keys(&:to_sym))
            tracks = workspace.session.tracks(show)
            {says: wished.says(now: open_terms, sides: tracks.select(&:armed).sum { |track| track.lanes.size }),
             warns: wished.warns(plan_lanes: tracks.flat_map(&:lanes), show_rate_hz: show.sample_rate_hz)}
          end

          def open_terms
            device = engine.last("status")&.fetch("device") or return
            return unless device["rate_hz"] && device["block_frames"]

            Loomshuttle::Capture::DeviceTerms.new(rate_hz: device["rate_hz"], block_frames: device["block_frames"], lanes_in: device["lanes"])
          end

          def disk
            session = workspace.session
            sides = session.tracks(show).select(&:armed).sum { |track| track.lanes.size }
            free = workspace.free_bytes
            left_s = free && Loomshuttle::Capture::DiskBudget.seconds_left(free, sides, show.sample_rate_hz, margin_bytes: session.margin_bytes, bytes: session.sample_bytes)
            {free_bytes: free, armed: sides, seconds_left: left_s, planned_s: session.planned_s}
          end
        end
      end
    end
  end
end
