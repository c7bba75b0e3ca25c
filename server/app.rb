# frozen_string_literal: true

require "sinatra/base"

module Loomshuttle
  module Server
    # The HTTP side: pages, API, events. Routes only translate; what they do is in actions
    # and in the core.
    class App < Sinatra::Base
      set :show_exceptions, false
      set :raise_errors, false
      set :static, false
      set :host_authorization, permitted_hosts: %w[127.0.0.1 localhost]
      # Only this application's own files, and no other site may frame it.
      CSP = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'"
      DIST = File.join(ROOT, "web/dist")
      TYPES = {".js" => "text/javascript", ".css" => "text/css", ".html" => "text/html", ".woff2" => "font/woff2", ".svg" => "image/svg+xml"}.freeze
      private_constant :CSP, :DIST, :TYPES

      def initialize(context)
        super()
        @context = context
        @edit = Actions::EditShow.new(context)
        @capture = Actions::Capture.new(context)
        @play = Actions::Play.new(context)
        @import = Actions::Import.new(context)
      end

      before { headers "content-security-policy" => CSP, "x-content-type-options" => "nosniff" }
      before("/api/*") { content_type :json }

      error(BadInput) { fail_with(422, env["sinatra.error"].to_h) }
      error(Store::Shows::Outdated) { fail_with(409, field: "version", value: nil, allowed: "the newest version", message: "#{env["sinatra.error"].message}. Nothing was changed; look again and repeat it.") }
      error(Links::EngineLink::Gone) { fail_with(503, field: "engine", value: nil, allowed: "a running audio engine", message: env["sinatra.error"].message) }
      error(Links::DeskLink::Failed) { fail_with(503, field: "desk", value: nil, allowed: "a desk that answers", message: env["sinatra.error"].message) }
      error(Sequel::DatabaseError) { fail_with(503, field: "database", value: nil, allowed: "a running database", message: "The database does not answer; nothing was changed.") }
      error do
        warn env["sinatra.error"].full_message(highlight: false)
        fail_with(500, field: "server", value: nil, allowed: "", message: "Something went wrong in the server; nothing was changed.")
      end

      get("/api/show") { json Views.show(@context.kept, @context) }
      get("/api/rig") { json Views.rig(@context.kept.show) }
      get("/api/looms/:name") { json Signal::Loom.weave(show, Signal::Looms.public_send(loom_name, show)) }
      get("/api/trace") { json Signal::Trace.public_send((params["back"] == "true") ? :back : :forward, show, params["endpoint"]).to_data }

      post("/api/edits") { edited(given["label"] || "Edit") { Edits.from_h(given["edit"]) } }
      post("/api/joins") { edited("Patch") { |now| join(now, given["from"], given["to"], given["count"] || 1) } }
      post("/api/undo") { answer(@edit.undo(given["version"])) }
      post("/api/redo") { answer(@edit.redo(given["version"])) }
      post("/api/accepted") { edited("Leave a finding") { accept(given["key"], given["digest"], given["reason"]) } }

      get("/api/swing") { swing_plan(show, params["to"], (params["keep"] || "").split(",")).then { |plan| plan.is_a?(Refusal) ? refuse(plan) : json(plan.to_data) } }
      post("/api/swing") { edited("Swing to the #{given["to"]}") { |now| swing_plan(now, given["to"], given["keep"] || []).then { |plan| plan.is_a?(Refusal) ? plan : plan.edit } } }

      get("/api/takes") { json @context.takes.of_show(@context.show_id) }
      post("/api/capture/start") { json id: @capture.start }
      post("/api/capture/stop") { json ok: @capture.stop }
      post("/api/takes/:id/play") { json ok: @play.take(params["id"].to_i, from_frame: given["from_frame"] || 0, repeat: given["repeat"] || false) }
      post("/api/songs/:id/play") { json ok: @play.song(params["id"]) }
      post("/api/playing/stop") { json ok: @play.stop }
      get("/api/ribbon") { json @context.engine.ask(do: "ribbon") }
      get("/api/disk") { json disk }

      get "/api/show/file" do
        attachment "#{Capture::FileName.folder(show.name)}.loom.json"
        Exchange::ShowFile.write(show)
      end

      put "/api/show/file" do
        replacement = @context.codec.parse(request.body.read)
        before = @context.kept.show
        kept = @context.shows.change(@context.show_id, nil) { @context.shows.forget(@context.show_id) && replacement }
        @context.announce(before, kept)
        json version: kept.version
      end

      get("/api/desk") { json @context.desk.has?(show.patch) ? {slots: [], sends: [], count: 0} : differences(@context.desk.state) }
      post("/api/desk/push") { json sent: @context.desk.send_changes(@context.desk.state, show.patch) }

      post("/api/imports") { json id: @import.open }
      put("/api/imports/:id/files/:name") { json @import.add(params["id"], params["name"].dup.force_encoding("UTF-8"), request.body, request.content_length) }
      get("/api/imports/:id") { json @import.plan(params["id"]) }
      post("/api/imports/:id/accept") { json id: @import.accept(params["id"], given["name"].to_s, given["places"]) }

      get "/api/events" do
        hub = @context.hub
        [200, {"content-type" => "text/event-stream", "cache-control" => "no-store", "connection" => "close", "x-accel-buffering" => "no"}, ->(io) { hub.add(io) }]
      end

      get("/assets/*") { file(File.join("assets", File.basename(params["splat"].first)), "public, max-age=31536000, immutable") }

      get "/*" do
        halt 404, "not here" if params["splat"].first.match?(/\.|\Aapi\b/)
        file("index.html", "no-cache")
      end

      private

      def json(data) = JSON.generate(data)
      def show = @context.kept.show
      def given = @given ||= JSON.parse(request.body.read.then { |text| text.empty? ? "{}" : text })
      def loom_name = Signal::Looms::NAMES.find { |name| name == params["name"] } || raise(BadInput.new(field: "loom", value: params["name"], allowed: Signal::Looms::NAMES.join(", ")))
      def fail_with(status, fault) = halt(status, {"content-type" => "application/json"}, JSON.generate(error: fault))
      def refuse(refusal) = fail_with(422, refusal.to_h.merge(message: refusal.why))
      def answer(result) = result.is_a?(Refusal) ? refuse(result) : json(version: result.version)
      def edited(label, &edit) = answer(@edit.call(given["version"], label: label, &edit))

      def join(now, from, to, count)
        edit = Edits::Join.between(now, from, to)
        (edit.is_a?(Edits::Connect) && count > 1) ? Edits::Run.new(slot: edit.slot, from: edit.from, count: count) : edit
      end

      def accept(key, digest, reason)
        Edits::Accept.new(key: key, acceptance: digest && Show::Acceptance.new(who: "engineer", at: @context.clock.call.utc.iso8601, digest: digest, reason: reason.to_s))
      end

      def swing_plan(now, to, keep) = (to == "recorder") ? Soundcheck::Swing.to_recorder(now, keep: keep) : Soundcheck::Swing.to_stage(now)

      def disk
        armed = show.tracks.values.count(&:armed)
        free = @context.free_bytes
        {free_bytes: free, armed: armed, seconds_left: Capture::DiskBudget.seconds_left(free, armed, show.sample_rate_hz)}
      end

      def differences(state)
        plan = show.patch
        slots = (plan.slots.keys | state.slots.keys).reject { |id| plan.slots[id] == state.slots[id] }
        sends = (plan.sends.keys | state.sends.keys).reject { |id| plan.sends[id] == state.sends[id] }
        {slots: slots.map { |id| {slot: id, label: show.label(id), plan: plan.slots[id]&.from, desk: state.slots[id]&.from} }, sends: sends, count: slots.size + sends.size}
      end

      def file(name, cache)
        path = File.join(DIST, name)
        halt 404, "not here" unless File.file?(path)
        headers "cache-control" => cache, "content-type" => TYPES.fetch(File.extname(path), "application/octet-stream")
        File.binread(path)
      end
    end
  end
end
