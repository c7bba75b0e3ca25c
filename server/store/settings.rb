# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Settings by name, each one JSON object.
      class Settings
        def initialize(database)
          @settings = database[:settings]
        end

        # @return [Hash] string keys
        def read(name) = @settings.where(name: name).get(:value).to_h

        def write(name, value)
          @settings.insert_conflict(target: :name, update: {value: Sequel.pg_jsonb(value)}).insert(name: name, value: Sequel.pg_jsonb(value))
        end
      end
    end
  end
end
