-- +goose Up
-- What an edit did is kept pressed together where it is long; edits that are folded away leave their kinds with the
-- piece; how long she has knitted is summed pass by pass, not read off the whole journal.
CREATE TABLE edit_anew (
  piece   INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  n       INTEGER NOT NULL,           -- from 1; without gaps from the first that is kept
  kind    TEXT NOT NULL DEFAULT '',
  label   TEXT NOT NULL,
  changes BLOB NOT NULL,              -- JSON, or gzip of it: what the edit did
  inverse BLOB NOT NULL,              -- JSON, or gzip of it: what undoes it
  at      TEXT NOT NULL,
  PRIMARY KEY (piece, n)
) STRICT, WITHOUT ROWID;
INSERT INTO edit_anew (piece, n, kind, label, changes, inverse, at)
  SELECT piece, n, kind, label, CAST(changes AS BLOB), CAST(inverse AS BLOB), at FROM edit;
DROP TABLE edit;
ALTER TABLE edit_anew RENAME TO edit;
ALTER TABLE piece ADD COLUMN folded TEXT NOT NULL DEFAULT ''; -- kinds of the edits folded away, a blank between
CREATE TABLE pace (
  piece   INTEGER PRIMARY KEY REFERENCES piece(id) ON DELETE CASCADE,
  seconds REAL NOT NULL,              -- between knitted passes, long pauses left out
  passes  INTEGER NOT NULL            -- how many that was
) STRICT;
INSERT INTO pace (piece, seconds, passes)
  SELECT piece, sum(took), count(*) FROM (
    SELECT piece, kind, round((julianday(at) - julianday(lag(at) OVER (PARTITION BY piece ORDER BY id))) * 86400, 3) AS took
    FROM journal)
  WHERE kind = 'knitted' AND took >= 0 AND took < 600 GROUP BY piece;

-- +goose Down
DROP TABLE pace;
ALTER TABLE piece DROP COLUMN folded;
CREATE TABLE edit_was (
  piece   INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  n       INTEGER NOT NULL,
  label   TEXT NOT NULL,
  changes TEXT NOT NULL,
  inverse TEXT NOT NULL,
  at      TEXT NOT NULL,
  kind    TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (piece, n)
) STRICT, WITHOUT ROWID;
DROP TABLE edit;
ALTER TABLE edit_was RENAME TO edit;
