# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- An edit whose answer was lost on its way is sent again: by what its page calls it, it is known and not done twice.
      ALTER TABLE edits ADD COLUMN request text;
      CREATE UNIQUE INDEX edits_by_request ON edits (show_id, request) WHERE request IS NOT NULL;
    SQL
  end
end
