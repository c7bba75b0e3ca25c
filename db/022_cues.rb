# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- What is read out to the band while a song plays, and which of its phrases lie ready as files.
      ALTER TABLE songs ADD COLUMN cues jsonb NOT NULL DEFAULT '{}', ADD COLUMN spoken text[] NOT NULL DEFAULT '{}';
    SQL
  end
end
