import type { FilmPlace } from '../geometry/shape';
import { type Focus, type FocusParam } from '../params';
import type { Image } from '../expressions/image';
import { lesser, mapped, nothing, scaled } from '../expressions/coverage';
import { focusShapeOf, focusShapes, type FocusShapeId } from './shapes';

export const MOST_FOCUSES = 32;

/** What is in focus: bands, ovals and pins. */
export const focuses = (at: readonly Focus[]): FocusParam => ({
  type: 'focus',
  label: 'In focus',
  most: MOST_FOCUSES,
  shapes: focusShapes.map(({ id, params }) => ({ id, params, ...(id === 'pin' && { many: true }) })),
  at,
});

/** One at its defaults, but for what is given. */
export function newFocus(shape: FocusShapeId, id: string, given: Readonly<Record<string, number | string>> = {}): Focus {
  const own = Object.entries(focusShapeOf(shape).params).map(([name, param]) => [name, param.at as number | string]);
  return { id, shape, params: { ...Object.fromEntries(own), ...given } };
}

/** Pixels along the small map of what pins say. */
const MAP = 96;

/**
 * How much is blurred everywhere, 0..1. Of bands, ovals and what pins say together, the least counts: what one of them calls sharp is sharp. Without any, all is blurred.
 */
export function blurMap(all: readonly Focus[], place: FilmPlace): Image {
  const shapes = all.filter(({ shape }) => shape !== 'pin').map(({ shape, params }) => focusShapeOf(shape).work?.(params as never, place));
  const pins = all.filter(({ shape }) => shape === 'pin').map(({ params }) => params as unknown as Pin);
  const maps = [...shapes, pins.length > 0 ? pinned(pins, place) : undefined].filter((map) => map !== undefined);
  const [first, ...others] = maps;
  return first ? others.reduce(lesser, first) : scaled(nothing(place), 1, 1);
}

export interface Pin {
  readonly x: number;
  readonly y: number;
  readonly blur: number;
}

/** How far around a pin its own blur is held: without it, it would stand out as a point. */
const HELD = 0.02;

/**
 * What pins say of a place, between them: the mean by the inverse of the distance (D. Shepard 1968), to the third power. It is nowhere less or more than any pin.
 * @param x and y from the photo's middle in shares of its long edge.
 */
export function betweenPins(pins: readonly Pin[], x: number, y: number): number {
  let [sum, weights] = [0, 0];
  for (const pin of pins) {
    const weight = ((pin.x - x) ** 2 + (pin.y - y) ** 2 + HELD ** 2) ** -1.5;
    sum += weight * pin.blur;
    weights += weight;
  }
  return sum / weights;
}

const pinned = (pins: readonly Pin[], place: FilmPlace): Image =>
  mapped(
    `pins ${JSON.stringify(pins)}`,
    MAP,
    MAP,
    () =>
      Float32Array.from({ length: MAP * MAP }, (_, i) => betweenPins(pins, ((i % MAP) + 0.5) / MAP - 0.5, (Math.floor(i / MAP) + 0.5) / MAP - 0.5)),
    place,
  );
