# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- How a role is usually played, whatever the show: its level, the law by which two sides come on one lane, and the numbers
      -- of the lanes on which it lies.
      ALTER TABLE roles
        ADD COLUMN gain_db double precision NOT NULL DEFAULT 0 CHECK (gain_db BETWEEN -60 AND 12),
        ADD COLUMN fold_db double precision NOT NULL DEFAULT -6 CHECK (fold_db IN (-3, -4.5, -6)),
        ADD COLUMN usual integer[] NOT NULL DEFAULT '{}';
    SQL
  end
end
