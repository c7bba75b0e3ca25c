# frozen_string_literal: true

require "sinatra/base"

module Loomshuttle
  module Server
    # The HTTP side: pages, API, events. Routes only translate; what they do is in actions
    # and in the core. One resource a file in api/; what they share is here.
    class App < Sinatra::Base
      set :show_exceptions, false
      set :raise_errors, false
      # What is refused is told to who asked; in the log stands what nobody expected.
      set :dump_errors, false
      set :static, false
      # Door looks at the host.
      set :host_authorization, permitted_hosts: []
      # Only this application's own files, and no other site may frame it.
      CSP = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-src 'self'; frame-ancestors 'self'"
      DIST = File.join(ROOT, "web/dist")
      TYPES = {".js" => "text/javascript",
               ".css" => "text/css",
               ".html" => "text/html",
               ".woff2" => "font/woff2",
               ".svg" => "image/svg+xml",
               ".png" => "image/png",
               ".crt" => "application/x-x509-ca-cert",
               ".webmanifest" => "application/manifest+json"}.freeze
      PICTURES = File.join(ROOT, "docs/screenshots")
      # What the routes read, and what they do.
      STORES = %i[workspaces shelf history presses templates takes alarms on_air songs sounds tasks folders devices entrance running engine desk hub clock
        linechecks soundchecks ears stage_osc osc data_folder].freeze
      ACTIONS = %i[edit capture play landing import make_song aim_desk put_on_air keep_shows verify overview listen check_lines simulate ping controls line_up
        bring_sound song_picture].freeze
      private_constant :CSP, :DIST, :PICTURES, :TYPES

      # @param parts each of STORES and ACTIONS by its name
      def initialize(**parts)
        super()
        (STORES + ACTIONS).each { |name| instance_variable_set(:"@#{name}", parts.fetch(name)) }
      end

      attr_reader(*STORES)
      private(*STORES)

      # The second lock: whatever stands between the contract and here, a route runs only for the very method and path
      # that the contract let through.
      before do
        passed = env[Contract::PASSED] == [request.request_method, request.path_info]
        next if passed

        fail_with(403, field: "address", value: nil, allowed: "what api/openapi.yaml names",
          message: "Nothing is done that the contract has not let through.")
      end
      before { headers "content-security-policy" => CSP, "x-content-type-options" => "nosniff" }
      before("/api/*") { content_type :json }
      # Of a show that is not there nothing is listed and nothing is kept.
      before(%r{/api/shows/(\d+)(?:/.*)?}) { @workspaces.passing(params["captures"].first.to_i).there! }

      error(BadInput) { fail_with(422, env["sinatra.error"].to_h) }
      error(Store::Shows::Outdated) do
        fail_with(409,
          field: env["sinatra.error"].edits.any? ? "meanwhile" : "version",
          value: env["sinatra.error"].version,
          allowed: "the newest version",
          message: overtaken(env["sinatra.error"]))
      end
      error(Runtime::Gone) do
        gone = env["sinatra.error"]
        fail_with(503, field: gone.who, value: nil, allowed: "#{gone.who} running", message: "#{gone.message[0].upcase}#{gone.message[1..]}.")
      end
      error(Needed) do
        needed = env["sinatra.error"]
        fail_with(409, field: needed.field, value: nil, allowed: "the same with #{needed.field}: true", message: needed.message)
      end
      # What the database refuses is no sign that it does not answer.
      error(Sequel::ConstraintViolation) do
        warn env["sinatra.error"].message
        fail_with(409, field: "request", value: nil, allowed: "what nobody else has just done", message: "Somebody else did this at the same moment; look again and repeat it.")
      end
      error(Links::DeskLink::Refused) do
        fail_with(422, field: "desk", value: nil, allowed: "what the desk lets be changed from here", message: env["sinatra.error"].message)
      end
      error(Links::DeskLink::Failed) do
        fail_with(503, field: "desk", value: nil, allowed: "a desk that answers", message: env["sinatra.error"].message)
      end
      error(Sequel::DatabaseConnectionError, Sequel::DatabaseDisconnectError, Sequel::PoolTimeout) do
        warn env["sinatra.error"].message
        fail_with(503,
          field: "database",
          value: nil,
          allowed: "a running database",
          message: "The database does not answer; nothing was changed.")
      end
      # It answers, and what it says is for whoever looks into the log: a full disk, or a fault of ours.
      error(Sequel::DatabaseError) do
        warn env["sinatra.error"].full_message(highlight: false)
        fail_with(500, field: "database", value: nil, allowed: "what the database takes",
          message: "The database refuses it: #{env["sinatra.error"].message.lines.first.strip}; nothing was changed.")
      end
      error do
        warn env["sinatra.error"].full_message(highlight: false)
        fail_with(500, field: "server", value: nil, allowed: "", message: "Something went wrong in the server; nothing was changed.")
      end

      register Api::Shows, Api::OpenShow, Api::Edits, Api::Rig, Api::Patch, Api::Desk, Api::Paper, Api::Takes, Api::Capture, Api::Alarms, Api::Library, Api::Songs, Api::Tasks,
        Api::Imports, Api::Door, Api::Linecheck, Api::Proving, Api::Lineup, Api::Bounces, Api::Sounds

      get "/api/events" do
        lines, device, wanted = hub, visitor.device, LevelsWanted.parse(rate_hz: params["rate_hz"], lanes: params["lanes"], desk: params["desk"])
        [200,
          {"content-type" => "text/event-stream", "cache-control" => "no-store", "connection" => "close", "x-accel-buffering" => "no"},
          ->(io) { lines.add(io, wanted, device: device) }]
      end

      get("/assets/*") { file(File.join("assets", File.basename(params["splat"].first)), "public, max-age=31536000, immutable") }

      # What lets a phone keep the page beside its other programs.
      get("/manifest.webmanifest") { file("manifest.webmanifest", "no-cache") }
      get("/icons/:name") { file(File.join("icons", File.basename(params["name"])), "no-cache") }

      # The authority's own certificate, for a device that shall know it.
      get("/authority.crt") { file("authority.crt", "no-cache", folder: File.join(data_folder, "door")) }

      get "/guide" do
        content_type :html
        headers "cache-control" => "no-cache"
        GuidePage.html
      end
      get("/guide/:picture") { file(File.basename(params["picture"]), "no-cache", folder: PICTURES) }

      get "/*" do
        halt 404, "not here" if params["splat"].first.include?(".")
        file("index.html", "no-cache")
      end

      private

      def json(data) = JSON.generate(data)
      # The show that the address names.
      def workspace = @workspace ||= workspaces[params["show"].to_i]
      def show = workspace.show
      def given = @given ||= JSON.parse(request.body.read.then { |text| text.empty? ? "{}" : text })
      def fail_with(status, fault) = halt(status, {"content-type" => "application/json"}, JSON.generate(error: fault))
      def refuse(refusal) = fail_with(422, refusal.to_data.compact.merge(value: refusal.value, message: refusal.why))

      # @return [Visitor] the contract lets nobody else through
      def osc_view = {**stage_osc.now.to_h, fault: osc.fault}

      # Does what was pressed, and keeps it in the log of the show on air with where the song was.
      def pressed(label)
        before = @play.place
        yield.tap do
          on_air.show_id&.then { |id| presses.note(id, who: author.who, label: label, place: before.empty? ? @play.place : before) }
        end
      end

      def visitor = env.fetch(Visitor::KEY)

      # Who edits, and in which browser. A device is who it was let in as; whoever sits at this machine says a name of
      # his own.
      def author
        client = header("HTTP_X_CLIENT")
        return Store::History::Author.new(who: visitor.name, client: "device #{visitor.device} #{client}") if visitor.device

        Store::History::Author.new(who: header("HTTP_X_WHO"), client: client)
      end

      # @return [String] text that the database takes, whatever bytes came
      def header(name) = CGI.unescape(env[name].to_s).force_encoding(Encoding::UTF_8).scrub("?").delete("\0")[0, 60]

      # A clear word to whoever must redo: what came in between.
      def overtaken(outdated)
        met = told(outdated.edits)
        return "The same was changed meanwhile: #{met.join(", ")}. Yours is not written yet." if met.any?

        others = told(history.since(workspace.id, author, outdated.version))
        between = others.empty? ? outdated.message[0].upcase + outdated.message[1..] : "In between came #{others.join(", ")}"
        "#{between}. Nothing of yours was changed; look again and repeat it."
      end

      def told(edits)
        edits.map { |edit| "\"#{edit[:label]}\"#{" (undone)" if edit[:undone]} by #{edit[:who].empty? ? "another browser" : edit[:who]}" }
      end

      # An edit is answered with the show as it is then, and the loom that the browser looks
      # at: it repaints without asking again.
      def answer(result)
        result.is_a?(Refusal) ? refuse(result) : json(page(result, given["loom"]))
      end

      # A loom that there is not is refused before anything is done for it.
      def known_loom! = given["loom"]&.then { |name| Screens::Looms.known(name) }

      # What a browser shows, all of one version.
      #
      # @param loom [String, nil] the one that it looks at
      def page(kept, loom)
        {version: kept.version,
         show: view(kept),
         loom: loom && Screens::Loom.weave(kept.show, Screens::Looms.named(loom, kept.show))}.compact
      end

      def view(kept)
        seat = on_air.now
        Views.show(kept, findings: workspace.findings(kept)).merge(
          on_air: seat.show_id == kept.id, follows: seat.show_id == kept.id && seat.follows,
          undo: history.label_done(kept.id, author), redo: history.label_undone(kept.id, author)
        )
      end

      # @param after [#call] what is done with what was kept, before it is answered
      def edited(label, exact: false, after: nil, &edit)
        known_loom!
        kept = @edit.call(workspace.id, given["version"], author: author.with(request: given["request"]), label: label, exact: exact, during_take: given["during_take"], on_recorder: given["on_recorder"], &edit)
        after&.call(kept) unless kept.is_a?(Refusal)
        answer(kept)
      end

      def file(name, cache, folder: DIST)
        path = File.join(folder, name)
        halt 404, "not here" unless File.file?(path)
        headers "cache-control" => cache, "content-type" => TYPES.fetch(File.extname(path), "application/octet-stream")
        File.binread(path)
      end
    end
  end
end
