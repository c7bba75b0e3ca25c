# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Short sounds that somebody brought for clicks and cues: their files lie beside all songs, named by what they hold.
      CREATE TABLE sounds (
        id text PRIMARY KEY CHECK (id ~ '^[0-9a-f]{16}$'),
        name text NOT NULL,
        length_ms integer NOT NULL CHECK (length_ms > 0),
        made_at timestamptz NOT NULL DEFAULT CURRENT_TIMESTAMP
      );
    SQL
  end
end
