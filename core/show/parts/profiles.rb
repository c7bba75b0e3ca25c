# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # Own profiles; the shipped ones belong to no show.
      class Profiles < Part
        def form = :list
        def key(value) = value.name
        def read(show) = show.profiles.select { |_, profile| profile.own }
        def put(show, values, _moves) = show.with(profiles: show.profiles.merge(values).compact.freeze)
        def encode(value) = value.to_data
        def decode(data, _profiles) = Rig::ProfileForm.parse(data).with(own: true)
        def subject(_show, key, _value) = "The profile #{key}"
        def without(_key, value) = value
      end
    end
  end
end
