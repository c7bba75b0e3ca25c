# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- What was pressed while a show played: its log of the night.
      CREATE TABLE presses (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        show_id bigint NOT NULL REFERENCES shows ON DELETE CASCADE,
        at timestamptz NOT NULL DEFAULT now(),
        who text NOT NULL DEFAULT '',
        label text NOT NULL,
        place text NOT NULL DEFAULT ''
      );
      CREATE INDEX presses_by_show ON presses (show_id, id);
    SQL
  end
end
