import { unit } from '../clamp';
import { inTurn, scaleBy } from '../geometry/matrix';
import type { FilmPlace } from '../geometry/shape';
import { placed } from './coverage';
import { grainTaps, orientationOf } from './grain';
import { point, type Image } from './image';

/**
 * Film grain: lattice cells for each pixel (up to 1), standard deviation, own grain in each colour 0..1, middle tones only 0..1, a seed, and where on the
 * film the first pixel lies, in pixels.
 */
export const grain = (from: Image, cells: number, amount: number, tint: number, middle: number, seed: number, x: number, y: number): Image =>
  point('grain', [from], [cells, amount, tint, middle, seed, x, y]);

/** Film grain as a pixel shows it. */
export interface Speckle {
  /** Lattice points to a pixel's side. */
  readonly cells: number;
  /** Standard deviation on the film, at its strongest. */
  readonly deviation: number;
  /** Own grain in each colour, middle tones only: 0..1. */
  readonly tint: number;
  readonly middle: number;
  readonly seed: number;
}

/** Film grain that turns and mirrors with the film, by quarter turns; where the film lies at another angle, it stands with the pixels. */
export function filmGrain(from: Image, { cells, deviation, tint, middle, seed }: Speckle, place: FilmPlace): Image {
  const taps = grainTaps(cells);
  const { way, left, top, backX, backY } = orientationOf(place, cells <= 1);
  return point('filmGrain', [from], [taps.cells, taps.reach, taps.taps, deviation * taps.gain, tint, middle, seed, left, top, way, backX, backY], {
    id: `grain ${cells}`,
    make: taps.weights,
  });
}

export interface Dust {
  /** Cells of the lattice along the film's long edge, and the share of them that hold something. */
  readonly cells: number;
  readonly density: number;
  /** Radius of the largest speck and width of hairs, in cells; the share of hairs; a seed. */
  readonly size: number;
  readonly width: number;
  readonly hairs: number;
  readonly seed: number;
}

/** Coverage of dust and hairs that lie on the film. */
export function dust({ cells, density, size, width, hairs, seed }: Dust, { map, edge }: FilmPlace): Image {
  const finest = (0.7 * cells) / edge;
  return placed('dust', { map: inTurn(map, scaleBy(cells, cells)), edge }, [density, size, hairs, width, finest, seed, 0, 0]);
}

export interface Paper {
  /** Cells of its tooth along the film's long edge, the share of fibres 0..1, where light comes from in degrees, a seed. */
  readonly cells: number;
  readonly fibre: number;
  readonly lightDeg: number;
  readonly seed: number;
}

/** Light and shade of paper on the film, in coverage about a half. */
export function paper({ cells, fibre, lightDeg, seed }: Paper, { map, edge }: FilmPlace): Image {
  const way = (lightDeg * Math.PI) / 180;
  const perPixel = cells / edge;
  const step = Math.max(0.3, 0.7 * perPixel);
  const fine = unit(1.2 - 1.6 * perPixel);
  return placed('paper', { map: inTurn(map, scaleBy(cells, cells)), edge }, [
    fibre,
    seed,
    Math.sin(way) * step,
    -Math.cos(way) * step,
    fine,
    0,
    0,
    0,
  ]);
}
/** Colour in the light and shade of coverage about a half. */
export const shaded = (from: Image, coverage: Image, amount: number): Image => point('shaded', [from, coverage], [amount]);
