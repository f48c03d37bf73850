-- +goose Up
-- Words of her own under which pieces are found again.
CREATE TABLE label (
  piece INTEGER NOT NULL REFERENCES piece(id) ON DELETE CASCADE,
  word  TEXT NOT NULL,
  PRIMARY KEY (piece, word)
) STRICT;

-- +goose Down
DROP TABLE label;
