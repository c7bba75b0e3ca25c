# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # How roles are played where a show says otherwise than the library.
      class RoleTerms < Part
        def name = "role_terms"
        def encode(value) = value.to_data
        def decode(data, _profiles) = Terms.from_data(data)
        def subject(_show, key, _value) = "How #{key} is played"
        def without(_key, value) = value
      end
    end
  end
end
