-- +goose Up
-- What the consoles keep: a design under a number of hers, on a machine known by its name.
CREATE TABLE memory (
  machine TEXT NOT NULL,
  number  TEXT NOT NULL,              -- as her panel shows it
  piece   INTEGER REFERENCES piece(id) ON DELETE SET NULL,
  name    TEXT NOT NULL,
  width   INTEGER NOT NULL,           -- columns
  height  INTEGER NOT NULL,           -- lines
  updated TEXT NOT NULL,
  PRIMARY KEY (machine, number)
) STRICT;

-- The yarns on her shelf; lengths in metres and weights in grams, of one ball.
CREATE TABLE yarn (
  id      INTEGER PRIMARY KEY,
  name    TEXT NOT NULL,
  colour  TEXT NOT NULL,
  grams   REAL NOT NULL,              -- 0: not known
  metres  REAL NOT NULL,
  balls   REAL NOT NULL,              -- in hand
  note    TEXT NOT NULL,
  updated TEXT NOT NULL
) STRICT;

-- Swatches that were knitted and measured after rest.
CREATE TABLE swatch (
  id        INTEGER PRIMARY KEY,
  yarn      TEXT NOT NULL,
  machine   TEXT NOT NULL,
  size      TEXT NOT NULL,
  technique TEXT NOT NULL,
  stitches  REAL NOT NULL,
  width_mm  REAL NOT NULL,
  rows      REAL NOT NULL,
  height_mm REAL NOT NULL,
  grams     REAL NOT NULL,            -- 0: not weighed
  note      TEXT NOT NULL,
  photo     BLOB,                     -- a JPEG, made small
  updated   TEXT NOT NULL
) STRICT;

-- +goose Down
DROP TABLE swatch;
DROP TABLE yarn;
DROP TABLE memory;
