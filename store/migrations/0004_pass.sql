-- +goose Up
-- The identity of the last pass knitted, which stays when rows elsewhere are edited: section,
-- repeat, row, part, and which of the row's passes. Entries written before it have none; their
-- place is the count in done.
ALTER TABLE journal ADD COLUMN pass TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE journal DROP COLUMN pass;
