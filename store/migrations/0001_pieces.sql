-- +goose Up
CREATE TABLE piece (
  id      INTEGER PRIMARY KEY,
  doc     TEXT NOT NULL,              -- the piece file as it stands
  head    INTEGER NOT NULL DEFAULT 0, -- edits done; those above it are undone
  created TEXT NOT NULL,
  updated TEXT NOT NULL,
  removed TEXT                        -- put away, and can be brought back
) STRICT;

CREATE TABLE edit (
  piece   INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  n       INTEGER NOT NULL,           -- from 1, without gaps
  label   TEXT NOT NULL,
  changes TEXT NOT NULL,              -- JSON: what the edit did
  inverse TEXT NOT NULL,              -- JSON: what undoes it
  at      TEXT NOT NULL,
  PRIMARY KEY (piece, n)
) STRICT, WITHOUT ROWID;

CREATE TABLE journal (
  id    INTEGER PRIMARY KEY,
  piece INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  kind  TEXT NOT NULL CHECK (kind IN ('knitted', 'back', 'jump', 'pause', 'resume', 'note')),
  done  INTEGER NOT NULL,             -- passes knitted after this entry
  head  INTEGER NOT NULL,             -- the piece's edits when it was written
  note  TEXT NOT NULL DEFAULT '',
  at    TEXT NOT NULL
) STRICT;

CREATE INDEX journal_piece ON journal (piece, id);

CREATE TABLE setting (
  key   TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE session (
  token   TEXT PRIMARY KEY,           -- SHA-256 of the cookie's value
  expires TEXT NOT NULL
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE session;
DROP TABLE setting;
DROP TABLE journal;
DROP TABLE edit;
DROP TABLE piece;
