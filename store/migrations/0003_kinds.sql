-- +goose Up
-- An edit has a kind of its own. Until now it was guessed from the words that name it; this
-- is the last time that they are read.
ALTER TABLE edit ADD COLUMN kind TEXT NOT NULL DEFAULT 'setting';
UPDATE edit SET kind = CASE
  WHEN label LIKE 'bring back %' THEN 'restore'
  WHEN label LIKE 'knit on %' THEN 'machine'
  WHEN label LIKE '% section' THEN 'section'
  WHEN label IN ('draw', 'line', 'rectangle', 'ellipse', 'fill', 'erase', 'move', 'stamp', 'cut', 'clear', 'replace', 'shift', 'resize',
                 'mirror', 'upside down', 'turn left', 'turn right', 'exchange the two', 'up and back', 'double width', 'double length',
                 'insert rows', 'delete rows', 'insert columns', 'delete columns', 'type a row', 'bring a chart in') THEN 'draw'
  WHEN label LIKE '% stitches in the middle' OR label IN ('fit whole repeats', 'fill the needles', 'move the repeat', 'space the motifs',
                 'lay a ground', 'add a motif', 'set from', 'set to', 'set first') THEN 'place'
  WHEN label LIKE 'move %' OR label LIKE 'stretch %' OR label LIKE 'repeat %' OR label LIKE 'centre %' OR label LIKE 'mirror %'
    OR label LIKE 'take % away' THEN 'place'
  WHEN label LIKE 'set %' THEN 'setting'
  ELSE 'mend'
END;

-- +goose Down
ALTER TABLE edit DROP COLUMN kind;
