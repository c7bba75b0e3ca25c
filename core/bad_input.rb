# frozen_string_literal: true

module Loomshuttle
  # The root of every error that outside input can cause. Its message always says which
  # field, which value and what is allowed; the same facts are attributes.
  class BadInput < StandardError
    attr_reader :field, :value, :allowed

    # @param message [String, nil] one that is made already, as another process said it
    # @param faults [Array<BadInput>, nil] that this one stands for
    def initialize(field:, value:, allowed:, message: nil, faults: nil)
      @faults = faults
      @field = field
      @value = value
      @allowed = allowed
      super(message || "#{field}: #{shown} is not usable; #{allowed}")
    end

    # Several faults as one: the first one's field, and all their sentences.
    #
    # @param faults [Array<BadInput>]
    def self.together(faults)
      first = faults.first
      return first if faults.size == 1

      new(field: first.field, value: first.value, allowed: first.allowed, message: faults.map(&:message).join("; "), faults: faults)
    end

    # @return [Array<BadInput>] each fault of several
    def faults = @faults || [self]

    # Goes into JSON, whatever bytes the value is of.
    def to_h = {field: field, value: value.is_a?(String) ? text : value, allowed: allowed, message: message}

    private

    # Long or binary values are cut, so that a message stays one readable line.
    def shown
      words = value.is_a?(String) ? text.gsub(/[[:cntrl:]]/, "?") : value.inspect
      words = "#{words[0, 80]}..." if words.size > 83
      value.is_a?(String) ? "\"#{words}\"" : words
    end

    # What is no text in UTF-8 has no letters.
    def text = value.dup.force_encoding(Encoding::UTF_8).scrub("?")
  end
end
