# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Tempi at which a song lies ready as files of its own, by percent of its own tempo.
      ALTER TABLE songs ADD COLUMN tempi jsonb NOT NULL DEFAULT '{}';
    SQL
  end
end
