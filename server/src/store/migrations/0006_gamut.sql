-- The primaries that a photo is worked on in: those that were imported before were converted to sRGB, and stay so.
ALTER TABLE photos ADD COLUMN gamut text NOT NULL DEFAULT 'srgb';
