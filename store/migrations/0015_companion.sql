-- +goose Up
-- The journal learns what went wrong, what interrupted her, and what a machine on a wire has said; a place in
-- it may have a photograph.
CREATE TABLE journal_anew (
  id    INTEGER PRIMARY KEY,
  piece INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  kind  TEXT NOT NULL CHECK (kind IN ('knitted', 'back', 'jump', 'pause', 'resume', 'note', 'fault', 'wire')),
  done  INTEGER NOT NULL,             -- passes knitted after this entry
  head  INTEGER NOT NULL,             -- the piece's edits when it was written
  note  TEXT NOT NULL DEFAULT '',
  at    TEXT NOT NULL,
  pass  TEXT NOT NULL DEFAULT '',     -- the identity of the last pass knitted; '': none
  cause TEXT NOT NULL DEFAULT '',     -- of a fault the mistake, of a pause what interrupted, of the wire what was otherwise
  hand  TEXT NOT NULL DEFAULT ''      -- who told it: '' she, 'wire' a machine
) STRICT;
INSERT INTO journal_anew (id, piece, kind, done, head, note, at, pass) SELECT id, piece, kind, done, head, note, at, pass FROM journal;
DROP TABLE journal;
ALTER TABLE journal_anew RENAME TO journal;
CREATE INDEX journal_piece ON journal (piece, id);
CREATE TABLE journal_photo (
  entry INTEGER PRIMARY KEY REFERENCES journal(id) ON DELETE CASCADE,
  photo BLOB NOT NULL                 -- a JPEG, made small
) STRICT;

-- +goose Down
DROP TABLE journal_photo;
CREATE TABLE journal_was (
  id    INTEGER PRIMARY KEY,
  piece INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  kind  TEXT NOT NULL CHECK (kind IN ('knitted', 'back', 'jump', 'pause', 'resume', 'note')),
  done  INTEGER NOT NULL,
  head  INTEGER NOT NULL,
  note  TEXT NOT NULL DEFAULT '',
  at    TEXT NOT NULL,
  pass  TEXT NOT NULL DEFAULT ''
) STRICT;
INSERT INTO journal_was (id, piece, kind, done, head, note, at, pass)
  SELECT id, piece, CASE kind WHEN 'fault' THEN 'jump' WHEN 'wire' THEN 'note' ELSE kind END, done, head, note, at, pass FROM journal;
DROP TABLE journal;
ALTER TABLE journal_was RENAME TO journal;
CREATE INDEX journal_piece ON journal (piece, id);
