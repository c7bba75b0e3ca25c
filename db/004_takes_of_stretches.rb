# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- A take is made of stretches: a row of take_files is one channel of one file, with its place
      -- in the take. All of it is read from the takes' journals and can be made from them again.
      ALTER TABLE takes ADD COLUMN uid text;
      UPDATE takes SET uid = 'v1-' || id;
      ALTER TABLE takes ALTER COLUMN uid SET NOT NULL, ADD UNIQUE (uid);
      ALTER TABLE takes DROP CONSTRAINT takes_state_check;
      ALTER TABLE takes ADD CHECK (state IN ('recording', 'waiting', 'closed'));
      ALTER TABLE takes
        ADD COLUMN notes text NOT NULL DEFAULT '',
        ADD COLUMN encoding text NOT NULL DEFAULT 'pcm24',
        ADD COLUMN over text,
        ADD COLUMN copy text,
        ADD COLUMN started_at text NOT NULL DEFAULT '',
        ADD COLUMN lost_frames bigint NOT NULL DEFAULT 0 CHECK (lost_frames >= 0),
        ADD COLUMN log jsonb NOT NULL DEFAULT '{}';
      ALTER TABLE take_files
        ADD COLUMN part integer NOT NULL DEFAULT 1 CHECK (part > 0),
        ADD COLUMN at_frames bigint NOT NULL DEFAULT 0 CHECK (at_frames >= 0),
        ADD COLUMN frames bigint NOT NULL DEFAULT 0 CHECK (frames >= 0),
        ADD COLUMN report jsonb NOT NULL DEFAULT '{}';
      UPDATE take_files SET frames = takes.frames FROM takes WHERE takes.id = take_id;
      ALTER TABLE take_files DROP CONSTRAINT take_files_pkey, ADD PRIMARY KEY (take_id, track, part);
      -- What went wrong and somebody has to see. The key says what it is about, so that the same
      -- thing is told once however often it is read.
      CREATE TABLE alarms (
        key text PRIMARY KEY,
        about text NOT NULL,
        words text NOT NULL,
        happened_at text NOT NULL,
        seen_by text,
        seen_at timestamptz,
        made_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE settings (
        name text PRIMARY KEY,
        value jsonb NOT NULL CHECK (jsonb_typeof(value) = 'object')
      );
    SQL
  end
end
