# frozen_string_literal: true

module Loomshuttle
  module Server
    # The answer to a request that is refused before the application sees it, in the form that all refusals have.
    module FaultAnswer
      module_function

      # @param message [String] for people, with the way out
      # @return [Array] a Rack response
      def of(status, field:, message:, value: nil, allowed: "", faults: [])
        error = {field: field, value: value, allowed: allowed, message: message, faults: faults}
        headers = {"content-type" => "application/json", "x-content-type-options" => "nosniff"}
        [status, headers, [JSON.generate(error: error)]]
      end
    end
  end
end
