-- +goose Up
-- What the shelf shows of a piece, worked out when the piece was last opened, so that the
-- first page plans nothing.
CREATE TABLE summary (
  piece INTEGER PRIMARY KEY REFERENCES piece(id) ON DELETE CASCADE,
  rev   INTEGER NOT NULL,             -- of the piece that it was worked out from
  made  TEXT NOT NULL,                -- by which Vindel
  card  TEXT NOT NULL                 -- JSON, the pages' own
) STRICT;

-- +goose Down
DROP TABLE summary;
