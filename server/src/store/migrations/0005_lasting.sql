-- What there is to tell of a file beside its making, and how often the server ended while it was made.
ALTER TABLE exports ADD COLUMN notes jsonb NOT NULL DEFAULT '[]';
ALTER TABLE exports ADD COLUMN interrupted integer NOT NULL DEFAULT 0;

-- How many strokes and points a painting has up to and with this stroke, so that one that grows too large is refused when it comes.
ALTER TABLE strokes ADD COLUMN place integer NOT NULL DEFAULT 1;
ALTER TABLE strokes ADD COLUMN points integer NOT NULL DEFAULT 0;
WITH RECURSIVE chain AS (
  SELECT name, 1 AS place, jsonb_array_length(stroke -> 'trace') / 4 AS points FROM strokes WHERE after = ''
  UNION ALL
  SELECT s.name, c.place + 1, c.points + jsonb_array_length(s.stroke -> 'trace') / 4 FROM strokes s JOIN chain c ON s.after = c.name
)
UPDATE strokes SET place = chain.place, points = chain.points FROM chain WHERE chain.name = strokes.name;
