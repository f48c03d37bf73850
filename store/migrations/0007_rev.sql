-- +goose Up
-- How often the piece has been changed, undone and redone: a number that is never used again,
-- by which a page that shows an older state is told from one that shows this.
ALTER TABLE piece ADD COLUMN rev INTEGER NOT NULL DEFAULT 1;

-- +goose Down
ALTER TABLE piece DROP COLUMN rev;
