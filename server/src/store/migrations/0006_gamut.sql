-- The primaries that a photo is worked on in: those that were imported before were converted to sRGB, and stay so.
ALTER TABLE photos ADD COLUMN gamut text NOT NULL DEFAULT 'srgb';

-- Of a raw file: light that the largest value of what it was developed into stands for, as a multiple of white.
ALTER TABLE photos ADD COLUMN headroom real;
