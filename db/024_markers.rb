# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Markers that a song's stems brought with them (`cue `): frames of its audio, with their labels.
      ALTER TABLE songs ADD COLUMN markers jsonb NOT NULL DEFAULT '[]';
    SQL
  end
end
