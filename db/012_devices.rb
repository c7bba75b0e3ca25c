# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Codes by which a device is let in, for five minutes and one device each; kept as a keyed digest.
      CREATE TABLE invitations (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        code_digest text NOT NULL,
        may text NOT NULL CHECK (may IN ('look', 'stage', 'operate', 'lead')),
        wrong integer NOT NULL DEFAULT 0,
        ends_at timestamptz NOT NULL,
        used_at timestamptz
      );
      -- Devices that were let in; of a token only its digest is kept.
      CREATE TABLE devices (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
        may text NOT NULL CHECK (may IN ('look', 'stage', 'operate', 'lead')),
        token_digest text NOT NULL UNIQUE,
        made_at timestamptz NOT NULL DEFAULT now(),
        seen_at timestamptz NOT NULL DEFAULT now()
      );
    SQL
  end
end
