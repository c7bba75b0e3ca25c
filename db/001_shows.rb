# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- One show is one document, changed only under its version; edits are its history.
      CREATE TABLE shows (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        version bigint NOT NULL DEFAULT 1 CHECK (version > 0),
        document jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE edits (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        show_id bigint NOT NULL REFERENCES shows ON DELETE CASCADE,
        label text NOT NULL,
        edit jsonb NOT NULL,
        inverse jsonb NOT NULL,
        undone boolean NOT NULL DEFAULT false,
        made_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX edits_by_show ON edits (show_id, id);
      CREATE TABLE takes (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        show_id bigint NOT NULL REFERENCES shows ON DELETE CASCADE,
        number integer NOT NULL CHECK (number > 0),
        folder text NOT NULL UNIQUE,
        name text NOT NULL,
        origin text NOT NULL CHECK (origin IN ('recorded', 'imported')),
        sample_rate_hz integer NOT NULL CHECK (sample_rate_hz > 0),
        frames bigint NOT NULL DEFAULT 0 CHECK (frames >= 0),
        state text NOT NULL CHECK (state IN ('recording', 'closed')),
        reason text,
        made_at timestamptz NOT NULL DEFAULT now(),
        UNIQUE (show_id, number)
      );
      CREATE TABLE take_files (
        take_id bigint NOT NULL REFERENCES takes ON DELETE CASCADE,
        track text NOT NULL,
        file text NOT NULL,
        channel integer NOT NULL CHECK (channel > 0),
        name text NOT NULL,
        PRIMARY KEY (take_id, track),
        UNIQUE (take_id, file, channel)
      );
    SQL
  end
end
