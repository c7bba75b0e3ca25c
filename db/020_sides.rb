# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- What becomes of a stereo stem's two sides on one lane: the power of their sum beside that of both, and the highest level of
      -- the plain sum. Null for mono, silence, and what was taken in before.
      ALTER TABLE stems ADD COLUMN sides_db double precision, ADD COLUMN sum_peak_dbfs double precision;
    SQL
  end
end
