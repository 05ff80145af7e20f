import { decode } from '../pixels/colour';
import type { Gamut } from '../pixels/gamut';
import { apertureNumbers, round, type Aperture } from '../expressions/filters/aperture';
import { affine, filtered, only, sum, type Image } from '../expressions/image';
import { fromLinear, shoulder, toLinear } from '../expressions/colour';
import { length, listed, percent, toneLevel } from '../params';
import { bright, tinted } from './spreading';

export const opening = listed('Opening', [
  { id: 'round', label: 'Round' },
  { id: '5', label: '5 blades' },
  { id: '6', label: '6 blades' },
  { id: '7', label: '7 blades' },
  { id: '8', label: '8 blades' },
  { id: '9', label: '9 blades' },
  { id: 'oval', label: 'Oval' },
]);
/** How wide an oval opening is against its height. */
const OVAL = 0.6;

/** An opening by its name. */
export const openingOf = (name: string, radiusPx: number): Aperture => ({
  ...round(radiusPx),
  blades: Number(name) || 0,
  squeeze: name === 'oval' ? OVAL : 1,
});

/** Smaller openings than this let all through as it is. */
const LEAST_PX = 0.35;
/** A picture through an opening. */
export const through = (from: Image, aperture: Aperture): Image =>
  aperture.radiusPx < LEAST_PX ? from : filtered(from, 'aperture', apertureNumbers(aperture));

export const lensParams = {
  lift: percent({ label: 'Lift highlights', at: 0.2 }),
  threshold: toneLevel({ label: 'From tone', at: 0.85 }),
};
/** How many times brighter than white a lamp is taken to be, at most. */
const MOST_LIFT = 24;
const KNEE = 0.08;

/** Highlights as bright as lamps are, whose true light a photo cannot hold. Where light was lifted `softened` bends it back under white. */
export function lifted(read: Image, lift: number, threshold: number): Image {
  return lift === 0 ? read : sum(read, bright(read, threshold, KNEE), 1, MOST_LIFT * lift * lift);
}
/** The same by coverage. */
export const liftedBy = (read: Image, coverage: Image, lift: number, threshold: number): Image =>
  lift === 0 ? read : sum(read, only(bright(read, threshold, KNEE), coverage), 1, MOST_LIFT * lift * lift);
export const softened = (read: Image, lift: number): Image => (lift === 0 ? read : shoulder(read, decode(0.97)));

/** Encoded contrast about middle grey, and colour, of linear light. */
export function crisped(read: Image, contrast: number, saturation: number, gamut: Gamut | undefined): Image {
  const gain = 1 + contrast;
  const stronger = contrast === 0 ? read : toLinear(affine(fromLinear(read), gain, 0.5 - 0.5 * gain));
  return tinted(stronger, saturation, 0, gamut);
}

export const blurRadius = (at: number) => length({ label: 'Blur', min: 0, max: 0.03, at, middle: 0.008 });
