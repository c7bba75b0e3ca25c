# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- A song's tempo map, where its bar 1 lies in the audio, and how its click sounds; the columns of before are what a
      -- list shows of it.
      ALTER TABLE songs DROP COLUMN maps;
      ALTER TABLE songs ADD COLUMN tempo jsonb, ADD COLUMN bar_1_frame bigint NOT NULL DEFAULT 0, ADD COLUMN click jsonb NOT NULL DEFAULT '{}';
      ALTER TABLE songs DROP CONSTRAINT songs_bpm_check;
      ALTER TABLE songs ADD CONSTRAINT songs_bpm_check CHECK (bpm BETWEEN 5 AND 999);
    SQL
  end
end
