-- Painted strokes, each kept once, by content. A painting is named by its last stroke; each stroke names the one before it, the first one nothing.
CREATE TABLE strokes (
  name    text PRIMARY KEY,
  after   text NOT NULL,
  stroke  jsonb NOT NULL,
  kept_at timestamptz NOT NULL DEFAULT clock_timestamp()
);
CREATE INDEX strokes_by_age ON strokes (kept_at);
