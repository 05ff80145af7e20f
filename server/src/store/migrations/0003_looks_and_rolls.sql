-- Looks of one's own, as their files say; those that come with Bexlen are files beside the program.
CREATE TABLE looks (
  id         text PRIMARY KEY,
  look       jsonb NOT NULL,
  added_at   timestamptz NOT NULL DEFAULT clock_timestamp()
);
CREATE TABLE favourite_looks (look_id text PRIMARY KEY);

-- Folders of the shelf; a photo lies in one or in none.
CREATE TABLE rolls (
  id      text PRIMARY KEY,
  name    text NOT NULL UNIQUE,
  made_at timestamptz NOT NULL DEFAULT clock_timestamp()
);
ALTER TABLE photos ADD COLUMN roll_id text REFERENCES rolls (id) ON DELETE SET NULL;
ALTER TABLE photos ADD COLUMN taken_at timestamptz;

-- What a file is to be like. A contact sheet is of several photos and of no version.
ALTER TABLE exports ADD COLUMN wish jsonb;
ALTER TABLE exports ALTER COLUMN version_id DROP NOT NULL;
CREATE TABLE export_presets (
  id   text PRIMARY KEY,
  name text NOT NULL UNIQUE,
  wish jsonb NOT NULL
);
