# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # Roles together that are laid like one.
      class Mixes < Part
        def form = :list
        def encode(value) = value.to_h
        def decode(data, _profiles) = Mix.new(**data.transform_keys(&:to_sym), members: data["members"].transform_values(&:to_f).freeze)
        def subject(_show, _key, value) = "The mix #{value.name}"
        def mentions(value) = value.members.keys

        # Without a role that is gone it is still the mix of the others.
        def without(_key, value)
          left = value.members.reject { |role, _| yield role }
          (left.size == value.members.size) ? value : value.with(members: left.freeze)
        end
      end
    end
  end
end
