-- Which version of the show an edit led to, so that whoever was overtaken is told by what.
ALTER TABLE edits ADD COLUMN version bigint NOT NULL DEFAULT 0;
