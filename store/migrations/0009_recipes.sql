-- +goose Up
-- Recipes that are kept to be used again, in whatever piece. `doc` is JSON: the text, its lines one
-- after another, and the charts that it follows.
CREATE TABLE recipe (
  id      INTEGER PRIMARY KEY,
  name    TEXT NOT NULL,
  doc     TEXT NOT NULL,
  updated TEXT NOT NULL,
  removed TEXT                        -- when it was put away
) STRICT;

-- +goose Down
DROP TABLE recipe;
