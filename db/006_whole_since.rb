# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- From which version on the history tells how a show came to be: before it stood another show.
      ALTER TABLE shows ADD COLUMN whole_since integer NOT NULL DEFAULT 1;
    SQL
  end
end
