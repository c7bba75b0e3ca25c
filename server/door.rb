# frozen_string_literal: true

require "rack"

module Loomshuttle
  module Server
    # The first that every request meets. What comes through the front door (nginx, on the venue's network) says so by
    # a word that only nginx and the server know, and is whoever its cookie says; what comes on loopback is this
    # machine. What another page would have a browser do here is refused for both, and so is a path in any other
    # spelling than the one (`Spelling`): whatever comes behind reads one path, and the same one.
    class Door
      # A page of another name that leads here (DNS rebinding) is another site's: here only what has no name, or this
      # machine's own.
      NAMES_HERE = %w[127.0.0.1 localhost].freeze
      # nginx sets it, over whatever a browser sent.
      WORD = "HTTP_X_LOOMSHUTTLE_DOOR"
      COOKIE = "loomshuttle_device"
      CHANGES_NOTHING = %w[GET HEAD OPTIONS].freeze
      private_constant :NAMES_HERE, :CHANGES_NOTHING

      # @param devices [Store::Devices]
      # @param word [String] the one that nginx says
      def initialize(app, devices:, word:)
        @app, @devices, @word = app, devices, word
      end

      def call(env)
        return crooked(env) unless plain?(env)

        outside = through?(env)
        return refuse("host", env["HTTP_HOST"], "this machine's address") unless own_name?(env["HTTP_HOST"].to_s[/\A[^:]*/], outside)
        return refuse("origin", env["HTTP_ORIGIN"], "this page's own") if from_elsewhere?(env)

        env[Visitor::KEY] = outside ? visitor(env) : Visitor::HERE
        @app.call(env)
      end

      # @return [Boolean] whether a request came in on the venue's network
      def through?(env) = Rack::Utils.secure_compare(env[WORD].to_s, @word)

      private

      # Puma decodes no path, but takes one out of an address in absolute form, and lays a fragment aside.
      def plain?(env)
        path = env["PATH_INFO"]
        asked = env.fetch("REQUEST_URI", path)[/\A[^?]*/]
        whole = env.values_at("SCRIPT_NAME", "FRAGMENT").all? { |part| part.to_s.empty? }
        whole && asked == path && Spelling.plain?(path)
      end

      def crooked(env)
        asked, right = env["REQUEST_URI"] || env["PATH_INFO"], Spelling.of(env["PATH_INFO"])
        FaultAnswer.of(400, field: "address", value: asked.b.scrub("?").delete("\0")[0, 80], allowed: right,
          message: "This address is not spelled as addresses are here. Ask for #{right}")
      end

      def own_name?(name, outside) = NAMES_HERE.include?(name) || (outside && name.match?(/\A\d{1,3}(\.\d{1,3}){3}\z/))

      def visitor(env)
        token = Rack::Utils.parse_cookies(env)[COOKIE]
        token && @devices.visitor(token)
      end

      # A browser says from which page a request comes. A program says nothing, and is nobody's browser.
      def from_elsewhere?(env)
        return false if CHANGES_NOTHING.include?(env["REQUEST_METHOD"])

        site, origin = env["HTTP_SEC_FETCH_SITE"], env["HTTP_ORIGIN"]
        return true if site && !%w[same-origin none].include?(site)

        !origin.nil? && origin.sub(%r{\Ahttps?://}, "") != env["HTTP_HOST"]
      end

      def refuse(field, value, allowed)
        FaultAnswer.of(403, field: field, value: value, allowed: allowed,
          message: "#{field}: #{value.inspect} is not usable; #{allowed}")
      end
    end
  end
end
