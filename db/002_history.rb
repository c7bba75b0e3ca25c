# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Whose edit it was, from which browser, and what it touched: so that undo takes back one's
      -- own edits only, and never what somebody else has built on since.
      ALTER TABLE edits ADD COLUMN who text NOT NULL DEFAULT '';
      ALTER TABLE edits ADD COLUMN client text NOT NULL DEFAULT '';
      ALTER TABLE edits ADD COLUMN touched text[] NOT NULL DEFAULT '{}';
      CREATE INDEX edits_by_client ON edits (show_id, client, id);
      CREATE TABLE templates (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        name text NOT NULL UNIQUE CHECK (length(name) BETWEEN 1 AND 300),
        document jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
        made_at timestamptz NOT NULL DEFAULT now()
      );
    SQL
  end
end
