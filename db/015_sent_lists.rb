# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- The input list that somebody sent along with files: {"title": its file, "names": {"1": "Kick in"}}.
      ALTER TABLE imports ADD COLUMN list jsonb;
    SQL
  end
end
