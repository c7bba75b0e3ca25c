# frozen_string_literal: true

require "openapi_first"

module Loomshuttle
  module Server
    # Checks every request by api/openapi.yaml before any of our code sees it, and answers
    # a bad one in our own error form. What an operation asks of whoever calls it (x-may) stands
    # there too, and is refused here. What neither the contract nor PAGES names is not passed on. What is passed on
    # carries a mark, and the application runs nothing without it: see App.
    class Contract
      # Where the mark is kept in a request's environment: the method and the path that were let through.
      PASSED = "loomshuttle.passed"
      # What is no part of the API, each for looking only: a show's steps, and what the pages are made of.
      FILES = %r{guide(?:/[^/]+)?|(?:assets|icons)/[^/]+|[a-z-]+\.(?:webmanifest|crt)}
      PAGES = %r{\A/(?:shows(?:/[^/]+){0,2}|#{FILES})?\z}
      LOOKS = %w[GET HEAD].freeze
      private_constant :FILES, :PAGES, :LOOKS

      def initialize(app, path)
        @app = app
        @definition = OpenapiFirst.parse(OpenapiFirst::JsonRefs::Dereferencer.new(path, File.dirname(path), document(path), {}).call)
      end

      # Edits are checked by their own description (Edits.from_outside), from which the contract's is
      # written: it names every fault of an edit, where "one of 34 schemas" names none.
      def document(path)
        YAML.safe_load_file(path).tap do |document|
          schemas = document.dig("components", "schemas")
          Loomshuttle::Edits.schemas.each_key { |name| schemas.delete(name) }
          schemas["Edit"] = {"type" => "object", "required" => ["kind"]}
          document.replace(exact(document))
        end
      end

      # RFC 8259, section 6: beyond that no page can tell an integer from the next, and nothing here is called by one.
      EXACT = 2**53 - 1
      private_constant :EXACT

      def exact(part)
        return part.map { |one| exact(one) } if part.is_a?(Array)
        return part unless part.is_a?(Hash)

        part = part.transform_values { |one| exact(one) }
        Array(part["type"]).include?("integer") ? {"minimum" => -EXACT, "maximum" => EXACT, **part} : part
      end
      private :document, :exact

      def call(env)
        refused = refused_address(env) and return refused
        return page(env) unless env["PATH_INFO"].match?(%r{\A/api(?:/|\z)})
        return too_large if env["CONTENT_LENGTH"].to_i > BODY_BYTES_MAX

        request = Rack::Request.new(env)
        refused = refused_visitor(env[Visitor::KEY], @definition.request(request).operation) || refused_body(env)
        return refused if refused

        failure = @definition.validate_request(request).error
        failure ? answer(failure) : pass(env)
      rescue FloatDomainError
        refuse(400, "body", nil, "numbers that are finite, such as a version from 1")
      rescue OpenapiFirst::ParseError => e
        FaultAnswer.of(400, field: "body", allowed: "whole JSON", message: e.message)
      end

      # Far more than the largest show, and as much as one part of a file.
      BODY_BYTES_MAX = 16 * 1024 * 1024
      FILE_PATH = %r{\A/api/(shows/\d+|library)/imports/\d+/files/}
      private_constant :BODY_BYTES_MAX, :FILE_PATH

      STATUS = {not_found: 404, method_not_allowed: 405, unsupported_media_type: 415}.freeze
      private_constant :STATUS

      private

      def pass(env)
        env[PASSED] = env.values_at("REQUEST_METHOD", "PATH_INFO")
        @app.call(env)
      end

      def page(env)
        method, path = env.values_at("REQUEST_METHOD", "PATH_INFO")
        return refuse(405, "method", method, "GET: a page is only looked at") unless LOOKS.include?(method)

        return pass(env) if path.match?(PAGES)

        refuse(404, "address", path[0, 80], "there is no page at this address; begin at /")
      end

      # An operation that says nothing is for whoever may do everything.
      def refused_visitor(visitor, operation)
        wanted = operation ? operation["x-may"] || Visitor::MAY.last : Visitor::ANYONE
        return nil if wanted == Visitor::ANYONE || visitor&.may?(wanted)
        return refuse(401, "device", nil, "a device that was let in: ask for a code") unless visitor

        FaultAnswer.of(403, field: "may", value: visitor.may, allowed: wanted,
          message: "This device may #{Visitor::WORDS[visitor.may]}; " \
                   "this is for one that may #{Visitor::WORDS[wanted]}.")
      end

      # Nothing that is named in an address has other signs than a text may have.
      def refused_address(env)
        address = Rack::Utils.unescape_path("#{env["PATH_INFO"]}?#{env["QUERY_STRING"]}").force_encoding(Encoding::UTF_8)
        return if address.valid_encoding? && !address.include?("\0") && !env["QUERY_STRING"].to_s.match?(/%(?!\h\h)/)

        refuse(400, "address", address.scrub("?").delete("\0")[0, 80], "text in UTF-8, without the sign NUL")
      end

      # What no field can hold is refused as a whole, before anything looks into it: a body without
      # a type, bytes that are no UTF-8, and the one sign that no text in the database may have.
      def refused_body(env)
        return nil if env["CONTENT_LENGTH"].to_i.zero? || env["PATH_INFO"].match?(FILE_PATH)

        type = env["CONTENT_TYPE"].to_s
        return refuse(415, "content-type", nil, "application/json, or what api/openapi.yaml names") if type.empty?
        return nil unless type.start_with?("application/json")

        text = env["rack.input"].read.force_encoding(Encoding::UTF_8)
        env["rack.input"].rewind
        return refuse(400, "body", text.scrub("?")[0, 80], "text in UTF-8") unless text.valid_encoding?

        refuse(400, "body", "\\u0000", "text without the sign NUL") if text.include?("\0") || text.match?(/(?<!\\)(?:\\\\)*\\u0000/)
      end

      def refuse(status, field, value, allowed)
        FaultAnswer.of(status, field: field, value: value, allowed: allowed, message: "#{field}: #{allowed}.")
      end

      def answer(failure)
        faults = (failure.errors || []).map do |fault|
          place = fault.instance_location.to_s.delete_prefix("/")
          {field: place.empty? ? "body" : place, allowed: fault.error.to_s}
        end
        message = faults.any? ? faults.map { |fault| "#{fault[:field]}: #{fault[:allowed]}" }.join("; ") : failure.message || failure.error_type.to_s.tr("_", " ")
        FaultAnswer.of(STATUS.fetch(failure.error_type, 400), field: faults.first&.fetch(:field) || "request",
          allowed: faults.first&.fetch(:allowed) || "see api/openapi.yaml", message: message, faults: faults)
      end

      def too_large
        FaultAnswer.of(413, field: "body", allowed: "at most #{BODY_BYTES_MAX} bytes",
          message: "The request is too large; at most #{BODY_BYTES_MAX} bytes are taken.")
      end
    end
  end
end
