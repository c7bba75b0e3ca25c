# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Whether the stage is run by OSC too, at which port, and who may; without a row nobody may.
      CREATE TABLE stage_osc (
        one boolean PRIMARY KEY DEFAULT true CHECK (one),
        listens boolean NOT NULL,
        port integer NOT NULL CHECK (port BETWEEN 1024 AND 65535),
        senders text[] NOT NULL
      );
    SQL
  end
end
