# frozen_string_literal: true

require "json_schemer"

module Loomshuttle
  module Runtime
    # Checks the requests of one control line by api/openapi.yaml before any of our code sees
    # them: {"do": "record", ...} of the engine is described there as `EngineRecord`.
    #
    #   contract = LineContract.new(Shelf.api, "Engine", %w[status record])
    #   contract.check({"do" => "dance"})   # raises BadInput
    class LineContract
      # @param api [Hash] the parsed openapi.yaml
      # @param prefix [String] whose requests
      # @param known [Array<String>] what may stand under "do"; those without a schema of their
      #   own take no fields
      def initialize(api, prefix, known)
        @known = known
        document = JSONSchemer.openapi(api)
        names = api.dig("components", "schemas").keys
        @schemas = known.to_h { |name| [name, prefix + name.split("_").map(&:capitalize).join] }
          .select { |_, schema| names.include?(schema) }.transform_values { |schema| document.schema(schema) }
      end

      # @raise [BadInput] with every fault of the request
      def check(request)
        wish = request.is_a?(Hash) ? request["do"] : nil
        raise BadInput.new(field: "do", value: request.is_a?(Hash) ? wish : request, allowed: @known.join(", ")) unless @known.include?(wish)

        faults = @schemas[wish]&.validate(request)&.first(10).to_a
        return if faults.empty?

        raise BadInput.new(field: field(faults.first), value: faults.first["data"], allowed: faults.map { |fault| fault["error"] }.join("; "))
      end

      private

      def field(fault)
        missing = fault.dig("details", "missing_keys")&.first
        place = [*fault["data_pointer"].to_s.split("/").reject(&:empty?), *missing].join("/")
        place.empty? ? "request" : place
      end
    end
  end
end
