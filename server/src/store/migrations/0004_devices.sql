-- Phones and other machines that were let in; of what they show only a hash is kept.
CREATE TABLE devices (
  id text PRIMARY KEY,
  name text NOT NULL,
  secret_hash text NOT NULL UNIQUE,
  paired_at timestamptz NOT NULL DEFAULT now(),
  seen_at timestamptz NOT NULL DEFAULT now()
);
