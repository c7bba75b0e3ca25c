# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # What the whole show is called, where it is and how it runs.
      class About < Part
        def form = :own
        def read(show) = {"name" => show.name, "venue" => show.venue, "date" => show.date, "sample_rate_hz" => show.sample_rate_hz}
        def put(show, values, _moves) = show.with(**values.transform_keys(&:to_sym))
        def same?(_before, _after) = false
        def subject(_show, key, _value) = "The show's #{key.tr("_", " ")}"
        def without(_key, value) = value
      end
    end
  end
end
