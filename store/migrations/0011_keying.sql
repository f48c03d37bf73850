-- +goose Up
-- How far a program is keyed, or a card punched: `done` lines of a section, and of each of them a
-- mark by which a change of it is noticed.
CREATE TABLE keying (
  piece   INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  section INTEGER NOT NULL,
  done    INTEGER NOT NULL,
  marks   TEXT NOT NULL,              -- of the lines that are done, one after the other, with spaces
  updated TEXT NOT NULL,
  PRIMARY KEY (piece, section)
) STRICT;

-- +goose Down
DROP TABLE keying;
