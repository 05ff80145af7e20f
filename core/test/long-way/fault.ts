import { filmPlaceOf } from '../../src/geometry/shape';
import { bytesPerPixel, type Layout } from '../../src/pixels/picture';
import { pyramidFor } from '../../src/pixels/pyramid';
import { compile } from '../../src/stack/compile';
import { ValueNumbers } from '../../src/stack/program';
import type { Stack } from '../../src/stack/schema';
import { fill } from '../engine';
import { newEngine, resources } from '../kernels';
import { LongWay, type Disturb } from './evaluate';
import { map, opened, pixel, type Whole } from './picture';

/** What the engine is held against, and by how much it may differ, in levels of 8 bits. */
const LEVEL = 1 / 255;
export const photos: [string, Pick<Layout, 'depth' | 'channels'>][] = [
  ['an opaque photo of 8 bits', { depth: 8, channels: 3 }],
  ['an opaque photo of 16 bits', { depth: 16, channels: 3 }],
  ['a half-transparent photo of 8 bits', { depth: 8, channels: 4 }],
  ['a half-transparent photo of 16 bits', { depth: 16, channels: 4 }],
];

/** Pairs of forms: each form with each other one. */
const pairs = photos.flatMap((a, i) => photos.slice(i + 1).map((b) => [a, b]));
/** Two forms of photo for the member of a list at a place: over the list each form meets every other one, and each member a different pair from its neighbours. */
export const formsAt = (place: number): typeof photos => pairs[place % pairs.length] as typeof photos;

function photoOf(layout: Layout, values: (i: number) => number): Whole {
  const most = layout.depth === 8 ? 255 : 65535;
  const count = layout.width * layout.height * layout.channels;
  const bytes = new Uint8Array(layout.width * layout.height * bytesPerPixel(layout));
  for (let i = 0; i < count; i++) {
    const v = Math.round(values(i) * most);
    if (layout.depth === 8) bytes[i] = v;
    else bytes.set([v & 255, v >> 8], 2 * i);
  }
  return opened(layout, bytes);
}

const isReduced = (sigmaPx: number): boolean => pyramidFor(sigmaPx).factor > 1;

/** Errors such as layers and blurs may have: a fused table an eighth of a level, a blur by few taps a sixteenth, one from a reduced image a half. */
const shakes: readonly Disturb[] = [0, 1, 2, 3].map((turn) => (image, of) => {
  const share = of === 'layer' ? 1 / 8 : isReduced(of.sigmaPx) ? 1 / 2 : 1 / 16;
  const most = share * LEVEL * (turn % 2 === 0 ? 1 : -1);
  return map(image, (i) => {
    const [x, y] = [i % image.width, Math.floor(i / image.width)];
    const wave = turn < 2 ? 1 : Math.sin(x / 2 + turn) * Math.cos(y / 3);
    return pixel(image, i).map((v, c) => (c < 3 ? v + most * wave : v));
  });
});

/**
 * The first value of the engine's picture that is further from the long way's than it may be, with all that is needed to see it again; undefined if there is none.
 * What comes behind a blur or a table may strengthen its error, as it strengthens any small change: twice as much as shaking does is let pass.
 */
export async function fault(stack: Stack, layout: Layout, values: (i: number) => number): Promise<unknown> {
  const engine = await newEngine();
  fill(engine, layout, values);
  const made = new Float32Array(engine.render({ stack, format: 'float' })?.pixels.slice().buffer as ArrayBuffer);
  const [photo, place] = [
    photoOf(layout, values),
    { ...filmPlaceOf(layout), ...(layout.gamut && { gamut: layout.gamut }), ...(layout.headroom && { headroom: layout.headroom }), resources },
  ];
  const truth = new LongWay(photo, place, undefined, stack.development).picture(stack).at;
  const blurs = compile(stack, place, new ValueNumbers()).steps.some((step) => step.do === 'blur' && isReduced(step.sigmaPx));
  const bound = (blurs ? 1 : 0.5) * LEVEL;
  const off = truth.map((v, i) => Math.abs(v - (made[i] ?? NaN)));
  const firstOver = (most: (i: number) => number): number => off.findIndex((v, i) => !(v <= most(i)));
  if (firstOver(() => bound) < 0) return undefined;
  const matters = new Float64Array(truth.length);
  let at = -1;
  for (const shake of shakes) {
    new LongWay(photo, place, shake, stack.development).picture(stack).at.forEach((other, i) => {
      matters[i] = Math.max(matters[i] as number, Math.abs((truth[i] as number) - other));
    });
    at = firstOver((i) => bound + 2 * (matters[i] as number));
    // More shaking only lets more pass.
    if (at < 0) return undefined;
  }
  return { at, levels: (off[at] as number) / LEVEL, made: made[at], truth: truth[at], stack: JSON.stringify(stack) };
}
