CREATE TABLE photos (
  id          text PRIMARY KEY,
  hash        text NOT NULL UNIQUE,
  name        text NOT NULL,
  caption     text NOT NULL DEFAULT '',
  format      text NOT NULL,
  width       integer NOT NULL,
  height      integer NOT NULL,
  depth       integer NOT NULL,
  alpha       boolean NOT NULL,
  bytes       bigint NOT NULL,
  picked      boolean NOT NULL DEFAULT false,
  binned      boolean NOT NULL DEFAULT false,
  imported_at timestamptz NOT NULL DEFAULT clock_timestamp()
);

-- A version is a list of states; the one at the cursor is in force. Every write says which revision it replaces.
CREATE TABLE versions (
  id         text PRIMARY KEY,
  photo_id   text NOT NULL REFERENCES photos (id) ON DELETE CASCADE,
  name       text NOT NULL,
  revision   integer NOT NULL DEFAULT 1,
  cursor     integer NOT NULL DEFAULT 0,
  changed_at timestamptz NOT NULL DEFAULT clock_timestamp()
);
CREATE INDEX versions_of_photo ON versions (photo_id, changed_at);

CREATE TABLE steps (
  version_id text NOT NULL REFERENCES versions (id) ON DELETE CASCADE,
  place      integer NOT NULL,
  words      text NOT NULL,
  stack      jsonb NOT NULL,
  PRIMARY KEY (version_id, place)
);

CREATE TABLE exports (
  id         text PRIMARY KEY,
  photo_id   text NOT NULL REFERENCES photos (id) ON DELETE CASCADE,
  version_id text NOT NULL REFERENCES versions (id) ON DELETE CASCADE,
  stack      jsonb NOT NULL,
  file_name  text NOT NULL,
  format     text NOT NULL,
  quality    integer,
  depth      integer NOT NULL,
  state      text NOT NULL DEFAULT 'waiting',
  width      integer NOT NULL,
  height     integer NOT NULL,
  bytes      bigint,
  took_ms    integer,
  fault      jsonb,
  created_at timestamptz NOT NULL DEFAULT clock_timestamp()
);
CREATE INDEX exports_by_age ON exports (created_at);
