# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Many shows. What a list of them needs stands in columns that the database itself keeps in step
      -- with the document.
      ALTER TABLE shows
        ADD COLUMN uid uuid NOT NULL DEFAULT gen_random_uuid() UNIQUE,
        ADD COLUMN name text GENERATED ALWAYS AS (document ->> 'name') STORED,
        ADD COLUMN venue text GENERATED ALWAYS AS (coalesce(document ->> 'venue', '')) STORED,
        ADD COLUMN plays_on text GENERATED ALWAYS AS (coalesce(document ->> 'date', '')) STORED,
        ADD COLUMN changed_at timestamptz NOT NULL DEFAULT now(),
        ADD COLUMN archived_at timestamptz,
        ADD COLUMN binned_at timestamptz,
        ADD COLUMN doomed boolean NOT NULL DEFAULT false,
        ADD COLUMN findings jsonb NOT NULL DEFAULT '{}',
        ADD COLUMN session jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(session) = 'object'),
        ADD COLUMN folder text UNIQUE;
      -- Of the show's name only the beginning, and of its uid: no two shows meet, whatever they are called.
      UPDATE shows SET folder = coalesce(nullif(left(trim(both '-' from regexp_replace(lower(document ->> 'name'), '[^a-z0-9]+', '-', 'g')), 60), ''), 'unnamed')
        || '-' || left(uid::text, 8);
      ALTER TABLE shows ALTER COLUMN folder SET NOT NULL;
      UPDATE shows SET changed_at = coalesce((SELECT max(made_at) FROM edits WHERE show_id = shows.id), created_at);
      -- A show is never written over by another any more.
      ALTER TABLE shows DROP COLUMN whole_since;
      CREATE INDEX shows_by_change ON shows (changed_at DESC, id DESC);
      -- How its takes are recorded belongs to a show and goes with it.
      UPDATE shows SET session = value FROM settings WHERE settings.name = 'session/' || shows.id;
      DELETE FROM settings WHERE name LIKE 'session/%';
      -- What somebody did that no undo takes back, such as putting the show on air.
      ALTER TABLE edits ADD COLUMN act boolean NOT NULL DEFAULT false;
      -- What the take was, whatever its show becomes: row, tap and gear of each channel; and its size.
      ALTER TABLE take_files ADD COLUMN was jsonb NOT NULL DEFAULT '{}';
      ALTER TABLE takes ADD COLUMN bytes bigint NOT NULL DEFAULT 0 CHECK (bytes >= 0);
      UPDATE takes SET bytes = coalesce((SELECT sum(frames) FROM take_files WHERE take_id = takes.id), 0) * CASE encoding WHEN 'float32' THEN 4 ELSE 3 END;
      -- One show at most holds desk and audio device. "follows" is false while somebody only watches.
      CREATE TABLE on_air (
        one boolean PRIMARY KEY DEFAULT true CHECK (one),
        show_id bigint NOT NULL REFERENCES shows,
        follows boolean NOT NULL,
        since timestamptz NOT NULL DEFAULT now()
      );
      INSERT INTO on_air (show_id, follows) SELECT min(id), true FROM shows HAVING min(id) IS NOT NULL;
    SQL
  end
end
