# frozen_string_literal: true

require "que"

Sequel.migration do
  up do
    Que.connection = self
    Que.migrate!(version: 7)
    run <<~SQL
      -- What the worker is asked to do, for people to see; que_jobs is its queue.
      CREATE TABLE tasks (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        kind text NOT NULL,
        subject text NOT NULL,
        show_id bigint REFERENCES shows ON DELETE CASCADE,
        args jsonb NOT NULL DEFAULT '{}',
        done bigint NOT NULL DEFAULT 0 CHECK (done >= 0),
        of bigint CHECK (of >= 0),
        unit text NOT NULL DEFAULT '',
        state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'stopping', 'stopped', 'failed', 'done')),
        words text NOT NULL DEFAULT '',
        starts integer NOT NULL DEFAULT 0,
        made_at timestamptz NOT NULL DEFAULT now(),
        begun_at timestamptz,
        ended_at timestamptz,
        seen boolean NOT NULL DEFAULT false
      );
      CREATE INDEX tasks_open ON tasks (id) WHERE state IN ('waiting', 'running', 'stopping');
      -- Recordings on their way in, file by file.
      CREATE TABLE imports (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        show_id bigint NOT NULL REFERENCES shows ON DELETE CASCADE,
        uid uuid NOT NULL DEFAULT gen_random_uuid() UNIQUE,
        source text,
        state text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'making', 'made')),
        task_id bigint REFERENCES tasks ON DELETE SET NULL,
        touched_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE import_files (
        import_id bigint NOT NULL REFERENCES imports ON DELETE CASCADE,
        number integer NOT NULL CHECK (number > 0),
        title text NOT NULL,
        path text NOT NULL,
        bytes bigint NOT NULL CHECK (bytes >= 0),
        landed bigint NOT NULL DEFAULT 0 CHECK (landed BETWEEN 0 AND bytes),
        holds jsonb,
        fault text,
        PRIMARY KEY (import_id, number)
      );
    SQL
  end
end
