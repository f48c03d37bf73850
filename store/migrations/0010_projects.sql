-- +goose Up
-- Projects: pieces that belong together, and how they are put together. `doc` is JSON of the pages'
-- own; `before` is what it was before the last change, for undo.
CREATE TABLE project (
  id      INTEGER PRIMARY KEY,
  name    TEXT NOT NULL,
  doc     TEXT NOT NULL,
  before  TEXT NOT NULL DEFAULT '',
  updated TEXT NOT NULL,
  removed TEXT                        -- when it was put away
) STRICT;

-- +goose Down
DROP TABLE project;
