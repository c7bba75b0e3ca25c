# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- What redo puts back is what was done then, not what the same command would do now. Edits from
      -- before this have none and are applied again.
      ALTER TABLE edits ADD COLUMN redo jsonb;
    SQL
  end
end
