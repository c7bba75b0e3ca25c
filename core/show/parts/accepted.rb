# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # Findings that are left on purpose.
      class Accepted < Part
        def encode(value) = value.to_h
        def decode(data, _profiles) = Acceptance.new(**data.transform_keys(&:to_sym))
        def subject(_show, key, _value) = "What is left on purpose, #{key}"
        def without(_key, value) = value
      end
    end
  end
end
