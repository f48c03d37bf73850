-- +goose Up
-- A photograph of her own machine, behind the controls that she places on it.
CREATE TABLE machine_photo (
  machine INTEGER PRIMARY KEY REFERENCES machine(id) ON DELETE CASCADE,
  photo   BLOB NOT NULL               -- a JPEG, made small
) STRICT;

-- +goose Down
DROP TABLE machine_photo;
