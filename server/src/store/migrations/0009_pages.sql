-- The shelf is told by pages, in each of its orders from where the last page ended.
CREATE INDEX photos_by_age ON photos (imported_at DESC, id DESC);
CREATE INDEX photos_newest ON photos (binned, imported_at DESC, id DESC);
CREATE INDEX photos_taken ON photos (binned, (coalesce(taken_at, imported_at)) DESC, id DESC);
CREATE INDEX photos_named ON photos (binned, lower(name), id);
CREATE INDEX photos_picked ON photos (binned, imported_at DESC, id DESC) WHERE picked;
CREATE INDEX photos_of_roll ON photos (roll_id, binned, imported_at DESC, id DESC) WHERE roll_id IS NOT NULL;
-- Of an export's photo, for when that is removed.
CREATE INDEX exports_of_photo ON exports (photo_id);

-- Words anywhere in names and captions are found by their groups of three characters, where the server has what that takes; without it each photo is looked at.
DO $$
BEGIN
  CREATE EXTENSION IF NOT EXISTS pg_trgm;
  CREATE INDEX photos_words ON photos USING gin (lower(name || ' ' || caption) gin_trgm_ops);
EXCEPTION WHEN OTHERS THEN
  RAISE NOTICE 'pg_trgm is not there: searching takes longer';
END
$$;
