# frozen_string_literal: true

Sequel.migration do
  up do
    run <<~SQL
      -- Where the desk is spoken to, when somebody said so; without a row it is the desk that ships with us.
      CREATE TABLE desk_address (
        one boolean PRIMARY KEY DEFAULT true CHECK (one),
        host text NOT NULL,
        port integer NOT NULL CHECK (port BETWEEN 1 AND 65535)
      );
    SQL
  end
end
