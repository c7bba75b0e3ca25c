# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # What stems are, and so where they go.
      class Roles < Part
        def form = :list
        def key(value) = value.name
        def ordered? = true
        def encode(value) = value.to_h
        def decode(data, _profiles) = Role.new(**data.transform_keys(&:to_sym))
        def subject(_show, key, _value) = "The role #{key}"
        def without(_key, value) = value
      end
    end
  end
end
