# frozen_string_literal: true

require "json"

Sequel.migration do
  up do
    run <<~SQL
      -- Songs are the library's: a show has only their ids. Maps, sections and arrangements have their place.
      CREATE TABLE songs (
        id text PRIMARY KEY CHECK (id ~ '^[a-z0-9][a-z0-9-]{0,59}$'),
        version bigint NOT NULL DEFAULT 1 CHECK (version > 0),
        title text NOT NULL CHECK (length(title) BETWEEN 1 AND 300),
        bpm double precision CHECK (bpm BETWEEN 20 AND 400),
        beats_per_bar integer NOT NULL DEFAULT 4 CHECK (beats_per_bar BETWEEN 1 AND 32),
        count_in_bars integer NOT NULL DEFAULT 1 CHECK (count_in_bars BETWEEN 0 AND 8),
        sample_rate_hz integer NOT NULL CHECK (sample_rate_hz > 0),
        length_frames bigint NOT NULL CHECK (length_frames >= 0),
        loudness_lufs double precision,
        true_peak_dbtp double precision,
        folder text NOT NULL,
        maps jsonb NOT NULL DEFAULT '[]',
        sections jsonb NOT NULL DEFAULT '[]',
        arrangements jsonb NOT NULL DEFAULT '[]',
        made_at timestamptz NOT NULL DEFAULT now(),
        changed_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE stems (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        song_id text NOT NULL REFERENCES songs ON DELETE CASCADE,
        position integer NOT NULL,
        name text NOT NULL CHECK (length(name) BETWEEN 1 AND 300),
        role text NOT NULL,
        file text NOT NULL,
        original text,
        channels integer NOT NULL DEFAULT 1 CHECK (channels IN (1, 2)),
        sample_rate_hz integer NOT NULL CHECK (sample_rate_hz > 0),
        frames bigint NOT NULL CHECK (frames >= 0),
        loudness_lufs double precision,
        true_peak_dbtp double precision,
        UNIQUE (song_id, file)
      );
      CREATE INDEX stems_by_song ON stems (song_id, position);
      -- What stems can be, one list for the library. A role that nobody has settled yet says so.
      CREATE TABLE roles (
        name text PRIMARY KEY CHECK (name ~ '^[a-z0-9][a-z0-9-]{0,59}$'),
        position integer NOT NULL DEFAULT 0,
        hidden boolean NOT NULL DEFAULT false,
        lanes text NOT NULL DEFAULT 'own' CHECK (lanes IN ('own', 'pair')),
        settled boolean NOT NULL DEFAULT true
      );
      CREATE TABLE song_edits (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        song_id text NOT NULL REFERENCES songs ON DELETE CASCADE,
        version bigint NOT NULL,
        label text NOT NULL,
        was jsonb NOT NULL,
        became jsonb NOT NULL,
        who text NOT NULL DEFAULT '',
        client text NOT NULL DEFAULT '',
        undone boolean NOT NULL DEFAULT false,
        made_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX song_edits_by_song ON song_edits (song_id, id);
      -- Counts whatever changed in songs or roles: a show that is held ready is read again then.
      CREATE TABLE library (one boolean PRIMARY KEY DEFAULT true CHECK (one), version bigint NOT NULL DEFAULT 1, rate_hz integer NOT NULL DEFAULT 48000);
      INSERT INTO library DEFAULT VALUES;
      INSERT INTO roles (name, position, hidden) VALUES ('click', 1000, true), ('cue', 1001, true);
      -- An import may be one of a song; then it belongs to no show.
      ALTER TABLE imports ALTER COLUMN show_id DROP NOT NULL;
    SQL
    # Songs stood in each show's document. The same song in two shows is one; another one of the same id gets an
    # id of its own, and keeps its folder.
    self[:shows].order(:id).select(:id, Sequel.cast(:document, String).as(:document)).each do |show|
      document = JSON.parse(show[:document])
      ids = document.fetch("songs", []).map do |song|
        kept = self[:songs].where(id: song["id"]).first
        id = song["id"]
        if kept
          stems = self[:stems].where(song_id: id).order(:position).select_map(%i[name role file])
          next id if kept[:title] == song["title"] && stems == song.fetch("stems", []).map { |stem| stem.values_at("name", "role", "file") }

          id = "#{song["id"][0, 45]}-#{show[:id]}"
        end
        self[:songs].insert(id: id, title: song["title"], bpm: song["bpm"], beats_per_bar: song["beats_per_bar"], count_in_bars: song["count_in_bars"] || 1,
          sample_rate_hz: song["sample_rate_hz"], length_frames: song["length_frames"], folder: song["id"])
        song.fetch("stems", []).each.with_index do |stem, at|
          self[:stems].insert(song_id: id, position: at, name: stem["name"], role: stem["role"], file: stem["file"], sample_rate_hz: stem["sample_rate_hz"], frames: stem["frames"])
        end
        id
      end
      document.fetch("roles", []).each do |role|
        hidden = role["hidden"] || false
        self[:roles].insert_conflict(target: :name, update: {hidden: Sequel.|(Sequel[:roles][:hidden], hidden)})
          .insert(name: role["name"], hidden: hidden, position: (self[:roles].where { position < 1000 }.max(:position) || 0) + 1)
      end
      self[:shows].where(id: show[:id]).update(document: Sequel.lit("(document - 'songs' - 'roles') || ?::jsonb", JSON.generate("set_list" => ids)))
    end
  end
end
