-- +goose Up
-- A session says when it was begun, and from what, so that its owner can tell it from others.
ALTER TABLE session ADD COLUMN begun TEXT NOT NULL DEFAULT '';
ALTER TABLE session ADD COLUMN agent TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE session DROP COLUMN agent;
ALTER TABLE session DROP COLUMN begun;
