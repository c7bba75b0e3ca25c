# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # The recorder's tracks.
      class Tracks < Part
        def form = :list
        def ordered? = true
        # Hardly any track shares its return.
        def encode(value) = value.beside ? value.to_h : value.to_h.except(:beside, :sum_db)
        def decode(data, _profiles) = Capture::Track.new(**data.transform_keys(&:to_sym))
        def subject(_show, _key, value) = "Track #{value.number} (#{value.name})"
        def mentions(value) = [value.place, value.row].compact

        # A track whose row goes is meant for nobody; one whose place goes goes with it.
        def without(_key, value)
          return nil if yield value.place

          (value.row && yield(value.row)) ? value.with(row: nil) : value
        end
      end
    end
  end
end
