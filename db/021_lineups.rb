# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- What was heard where when lanes were looked for at the desk: one for everybody who looks at a show, with a version of its own.
      CREATE TABLE lineups (
        show_id bigint PRIMARY KEY REFERENCES shows (id) ON DELETE CASCADE,
        version integer NOT NULL DEFAULT 1,
        state jsonb NOT NULL
      );
    SQL
  end
end
