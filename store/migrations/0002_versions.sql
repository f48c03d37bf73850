-- +goose Up
CREATE TABLE version (
  id    INTEGER PRIMARY KEY,
  piece INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  name  TEXT NOT NULL,
  doc   TEXT NOT NULL,                -- the piece file as it stood
  at    TEXT NOT NULL
) STRICT;

CREATE INDEX version_piece ON version (piece, id);

CREATE TABLE machine (
  id      INTEGER PRIMARY KEY,
  doc     TEXT NOT NULL,              -- what a piece file holds under "machine"
  updated TEXT NOT NULL,
  removed TEXT                        -- put away, and can be brought back
) STRICT;

-- +goose Down
DROP TABLE machine;
DROP TABLE version;
