-- Processes that make files. One that has not been seen for a while is silent; what it was making is given to another.
CREATE TABLE machines (
  id       text PRIMARY KEY,
  name     text NOT NULL,
  threads  integer NOT NULL,
  made     integer NOT NULL DEFAULT 0,
  began_at timestamptz NOT NULL DEFAULT now(),
  seen_at  timestamptz NOT NULL DEFAULT now()
);

-- The job in the queue under which a file is made now, who makes it, and how often it was tried in vain. Only who works under this job may say what became of it.
ALTER TABLE exports ADD COLUMN job uuid;
ALTER TABLE exports ADD COLUMN machine text;
ALTER TABLE exports ADD COLUMN tries integer NOT NULL DEFAULT 0;
-- The finished file among the objects, where it is not called by the export alone.
ALTER TABLE exports ADD COLUMN file text;
ALTER TABLE exports ADD COLUMN ended_at timestamptz;
CREATE INDEX exports_by_state ON exports (state);
CREATE INDEX exports_without_job ON exports (id) WHERE state = 'waiting' AND job IS NULL;
CREATE INDEX exports_by_job ON exports (job);
CREATE INDEX exports_ended ON exports (machine, ended_at);

-- Codes for pairing, by their hashes, so that any process may take one that another gave out.
CREATE TABLE pairing_codes (
  hash  text PRIMARY KEY,
  until timestamptz NOT NULL,
  spent boolean NOT NULL DEFAULT false
);
