# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Which version of the show an edit led to, so that whoever was overtaken is told by what.
      ALTER TABLE edits ADD COLUMN version bigint NOT NULL DEFAULT 0;
    SQL
  end
end
