# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- What was proved in the soundcheck of a show: one for everybody who looks at it, with a version of its own.
      CREATE TABLE soundchecks (
        show_id bigint PRIMARY KEY REFERENCES shows (id) ON DELETE CASCADE,
        version integer NOT NULL DEFAULT 1,
        state jsonb NOT NULL
      );
    SQL
  end
end
