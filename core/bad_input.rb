# frozen_string_literal: true

module Loomshuttle
  # The root of every error that outside input can cause. Its message always says which
  # field, which value and what is allowed; the same facts are attributes.
  class BadInput < StandardError
    attr_reader :field, :value, :allowed

    # @param message [String, nil] one that is made already, as another process said it
    def initialize(field:, value:, allowed:, message: nil)
      @field = field
      @value = value
      @allowed = allowed
      super(message || "#{field}: #{shown} is not usable; #{allowed}")
    end

    def to_h = {field: field, value: value, allowed: allowed, message: message}

    private

    # Long or binary values are cut, so that a message stays one readable line.
    def shown
      text = value.is_a?(String) ? value.scrub("?") : value.inspect
      text = "#{text[0, 80]}..." if text.size > 83
      value.is_a?(String) ? "\"#{text}\"" : text
    end
  end
end
