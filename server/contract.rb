# frozen_string_literal: true

require "openapi_first"

module Loomshuttle
  module Server
    # Checks every request by api/openapi.yaml before any of our code sees it, and answers
    # a bad one in our own error form. What an operation asks of whoever calls it (x-may) stands
    # there too, and is refused here.
    class Contract
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
        return @app.call(env) unless env["PATH_INFO"].start_with?("/api/")
        return too_large if env["CONTENT_LENGTH"].to_i > BODY_BYTES_MAX

        request = Rack::Request.new(env)
        refused = refused_visitor(env[Visitor::KEY], @definition.request(request).operation) || refused_body(env)
        return refused if refused

        failure = @definition.validate_request(request).error
        failure ? answer(failure) : @app.call(env)
      rescue FloatDomainError
        refuse(400, "body", nil, "numbers that are finite, such as a version from 1")
      rescue OpenapiFirst::ParseError => e
        respond(400, {field: "body", value: nil, allowed: "whole JSON", message: e.message, faults: []})
      end

      # Far more than the largest show, and as much as one part of a file.
      BODY_BYTES_MAX = 16 * 1024 * 1024
      FILE_PATH = %r{\A/api/(shows/\d+|library)/imports/\d+/files/}
      private_constant :BODY_BYTES_MAX, :FILE_PATH

      STATUS = {not_found: 404, method_not_allowed: 405, unsupported_media_type: 415}.freeze
      private_constant :STATUS

      private

      # An operation that says nothing is for whoever may do everything.
      def refused_visitor(visitor, operation)
        wanted = operation ? operation["x-may"] || Visitor::MAY.last : Visitor::ANYONE
        return nil if wanted == Visitor::ANYONE || visitor&.may?(wanted)
        return refuse(401, "device", nil, "a device that was let in: ask for a code") unless visitor

        respond(403, {field: "may", value: visitor.may, allowed: wanted, faults: [],
                      message: "This device may #{Visitor::WORDS[visitor.may]}; this is for one that may #{Visitor::WORDS[wanted]}."})
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
        respond(status, {field: field, value: value, allowed: allowed, message: "#{field}: #{allowed}.", faults: []})
      end

      def answer(failure)
        faults = (failure.errors || []).map do |fault|
          place = fault.instance_location.to_s.delete_prefix("/")
          {field: place.empty? ? "body" : place, allowed: fault.error.to_s}
        end
        message = faults.any? ? faults.map { |fault| "#{fault[:field]}: #{fault[:allowed]}" }.join("; ") : failure.message || failure.error_type.to_s.tr("_", " ")
        respond(STATUS.fetch(failure.error_type, 400),
          {field: faults.first&.fetch(:field) || "request",
           value: nil,
           allowed: faults.first&.fetch(:allowed) || "see api/openapi.yaml",
           message: message,
           faults: faults})
      end

      def too_large
        respond(413, {field: "body",
          value: nil,
          allowed: "at most #{BODY_BYTES_MAX} bytes",
          message: "The request is too large; at most #{BODY_BYTES_MAX} bytes are taken.",
          faults: []})
      end

      def respond(status, fault) = [status, {"content-type" => "application/json"}, [JSON.generate(error: fault)]]
    end
  end
end
