import type { Gamut } from '../pixels/gamut';
import type { Kernels } from '../pixels/kernels';

/** Work on n pixels at (x, y): from a, and b where there are two inputs, to d. */
export type Run = (d: number, a: number, b: number, n: number, x: number, y: number) => void;

/** Bound once for a pass: its numbers, where its table lies, and a line of scratch. */
export type Bind = (k: Kernels, numbers: readonly number[], table: number, line: number) => Run;

/** What a pixel of an image is: a colour with its alpha, or four numbers of which none is alpha, such as sums for a fit. Both are kept whole by the engine. */
export type Content = 'colour' | 'numbers';

/** An inner loop as the engine sees it. */
interface Loop {
  /** Each channel comes from itself alone, by the same rule wherever the pixel is: one rule for all channels, or one for each. */
  readonly channelwise?: 'alike' | 'apart';
  /** It makes nothing beyond 0..1 out of what lies there. */
  readonly inside?: true;
  /** What it makes of a pixel depends on where the pixel is. */
  readonly placed?: true;
  /** What it makes of blurred values is as smooth as they are: it may be made at the size to which they are reduced. */
  readonly smooth?: true;
  /** It minds alpha by itself; all others get their colours straight. */
  readonly premultiplied?: true;
  /** Where its second input is nothing, it makes nothing, whatever the first one is. */
  readonly nothingByNone?: true;
  /** Nanoseconds that an opaque pixel takes, about, at 2.5 GHz with nothing else going on. */
  readonly cost: number;
  readonly bind: Bind;
}

/** Only a loop from colours to colours may have a form for RGB rows: the fourth number would be lost there. */
type Op = Loop &
  (
    | {
        readonly takes: readonly 'colour'[];
        readonly gives: 'colour';
        /** The same on a row of RGB rows. */
        readonly rgbRows?: Bind;
      }
    | { readonly takes: readonly Content[]; readonly gives: Content; readonly rgbRows?: never }
  );

const colour = { takes: ['colour'], gives: 'colour' } as const;
/** Coverage that come from a place alone. */
const somewhere = { placed: true, inside: true, takes: [], gives: 'numbers' } as const;

/** All inner loops that expressions can ask for. */
export const ops = {
  affine: {
    cost: 1,
    channelwise: 'alike',
    ...colour,
    premultiplied: true,
    bind:
      (k, [gain = 1, offset = 0]) =>
      (d, a, _b, n) =>
        k.affine(d, a, n, gain, offset),
    rgbRows:
      (k, [gain = 1, offset = 0]) =>
      (d, a, _b, n) =>
        k.affineRgbRows(d, a, n, gain, offset),
  },
  curve: {
    cost: 5,
    channelwise: 'alike',
    ...colour,
    bind: (k, _, table) => (d, a, _b, n) => void k.curve(d, a, n, table),
    rgbRows: (k, _, table) => (d, a, _b, n) => void k.curveRgbRows(d, a, n, table),
  },
  curves: { cost: 6, channelwise: 'apart', ...colour, bind: (k, _, table) => (d, a, _b, n) => void k.curves(d, a, n, table) },
  ramps: { cost: 17, channelwise: 'apart', ...colour, bind: (k, _, table) => (d, a, _b, n) => k.ramps(d, a, n, table) },
  lattice: { cost: 21, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.lattice(d, a, n, table) },
  toLinear: { cost: 5, inside: true, channelwise: 'alike', ...colour, bind: (k, _, table) => (d, a, _b, n) => k.toLinear(d, a, n, table) },
  fromLinear: { cost: 5, inside: true, channelwise: 'alike', ...colour, bind: (k, _, table) => (d, a, _b, n) => k.fromLinear(d, a, n, table) },
  toOklab: { cost: 15, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.toOklab(d, a, n, table) },
  fromOklab: { cost: 8, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.fromOklab(d, a, n, table) },
  toOklabP3: { cost: 15, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.toOklabP3(d, a, n, table) },
  fromOklabP3: { cost: 8, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.fromOklabP3(d, a, n, table) },
  narrow: { cost: 18, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.narrow(d, a, n, table) },
  rollOff: {
    cost: 5,
    ...colour,
    bind:
      (k, [knee = 0.5, room = 2]) =>
      (d, a, _b, n) =>
        k.rollOff(d, a, n, knee, room),
  },
  matrix: {
    cost: 2,
    ...colour,
    bind: (k, _, table) => (d, a, _b, n) => k.matrix(d, a, n, table),
    rgbRows: (k, _, table) => (d, a, _b, n) => k.matrixRgbRows(d, a, n, table),
  },
  raise: {
    cost: 11,
    channelwise: 'alike',
    ...colour,
    bind:
      (k, [pre = 1, power = 1, post = 1]) =>
      (d, a, _b, n) =>
        k.raise(d, a, n, pre, power, post),
  },
  cdl: { cost: 13, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.cdl(d, a, n, table) },
  byTone: { cost: 4, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.byTone(d, a, n, table) },
  byHue: {
    cost: 8,
    takes: ['colour', 'colour'],
    gives: 'colour',
    bind:
      (k, [knee = 1], table) =>
      (d, a, b, n) =>
        k.byHue(d, a, b, n, table, knee),
  },
  chromaMoments: { cost: 3, takes: ['colour'], gives: 'numbers', bind: (k) => (d, a, _b, n) => k.chromaMoments(d, a, n) },
  smoothed: { cost: 3, takes: ['colour', 'numbers'], gives: 'colour', bind: (k) => (d, a, b, n) => k.smoothed(d, a, b, n) },
  fitColour: {
    cost: 4,
    smooth: true,
    takes: ['numbers'],
    gives: 'numbers',
    bind:
      (k, [least = 0]) =>
      (d, a, _b, n) =>
        k.fitColour(d, a, n, least),
  },
  chroma: {
    cost: 5,
    ...colour,
    bind:
      (k, [gain = 0, protect = 0]) =>
      (d, a, _b, n) =>
        k.chroma(d, a, n, gain, protect),
  },
  moments: { cost: 2, ...colour, bind: (k) => (d, a, _b, n) => k.moments(d, a, n) },
  fitLine: {
    cost: 5,
    smooth: true,
    ...colour,
    bind:
      (k, [least = 0]) =>
      (d, a, _b, n) =>
        k.fitLine(d, a, n, least),
  },
  detail: {
    cost: 3,
    takes: ['colour', 'colour'],
    gives: 'colour',
    bind:
      (k, [amount = 0]) =>
      (d, a, b, n) =>
        k.detail(d, a, b, n, amount),
  },
  shade: { cost: 6, ...colour, bind: (k, _, table) => (d, a, _b, n) => k.shade(d, a, n, table) },
  shadeMoments: {
    cost: 6,
    takes: ['colour', 'colour'],
    gives: 'numbers',
    bind: (k, _, table) => (d, a, b, n) => k.shadeMoments(d, a, b, n, table),
  },
  fitShade: {
    cost: 6,
    smooth: true,
    takes: ['numbers'],
    gives: 'numbers',
    bind:
      (k, [least = 0]) =>
      (d, a, _b, n) =>
        k.fitShade(d, a, n, least),
  },
  clear: {
    cost: 11,
    takes: ['colour', 'numbers'],
    gives: 'colour',
    bind:
      (k, [amount = 0, air = 1]) =>
      (d, a, b, n) =>
        k.clear(d, a, b, n, amount, air),
  },
  grain: {
    placed: true,
    cost: 30,
    ...colour,
    bind:
      (k, [cells = 1, amount = 0, tint = 0, middle = 0, seed = 0, left = 0, top = 0], _table, line) =>
      (d, a, _b, n, x, y) =>
        k.grain(d, a, n, x + left, y + top, cells, amount, tint, middle, seed, line),
  },
  filmGrain: {
    placed: true,
    cost: 35,
    ...colour,
    bind:
      (
        k,
        [cells = 1, reach = 2, taps = 3, gain = 0, tint = 0, middle = 0, seed = 0, left = 0, top = 0, way = 0, backX = 0, backY = 0],
        table,
        line,
      ) =>
      (d, a, _b, n, x, y) =>
        k.filmGrain(d, a, n, x + left, y + top, cells, reach, taps, gain, tint, middle, seed, way, backX, backY, table, line),
  },
  oval: { cost: 5, ...somewhere, bind: (k, _, table) => (d, _a, _b, n, x, y) => k.oval(d, n, x, y, table) },
  strip: { cost: 5, ...somewhere, bind: (k, _, table) => (d, _a, _b, n, x, y) => k.strip(d, n, x, y, table) },
  mapped: { cost: 8, ...somewhere, bind: (k, _, table) => (d, _a, _b, n, x, y) => k.mapped(d, n, x, y, table) },
  tones: {
    cost: 3,
    inside: true,
    takes: ['colour'],
    gives: 'numbers',
    bind:
      (k, [from = 0, rise = 1, to = 1, fall = 1, red = 0, green = 0, blue = 0]) =>
      (d, a, _b, n) =>
        k.tones(d, a, n, from, rise, to, fall, red, green, blue),
  },
  colours: { cost: 6, inside: true, takes: ['colour'], gives: 'numbers', bind: (k, _, table) => (d, a, _b, n) => k.colours(d, a, n, table) },
  edges: {
    cost: 4,
    inside: true,
    takes: ['colour'],
    gives: 'numbers',
    bind:
      (k, [from = 0, rise = 1]) =>
      (d, a, _b, n) =>
        k.edges(d, a, n, from, rise),
  },
  scaled: {
    cost: 1,
    inside: true,
    takes: ['numbers'],
    gives: 'numbers',
    bind:
      (k, [gain = 1, offset = 0]) =>
      (d, a, _b, n) =>
        k.scaled(d, a, n, gain, offset),
  },
  either: { cost: 2, inside: true, takes: ['numbers', 'numbers'], gives: 'numbers', bind: (k) => (d, a, b, n) => k.either(d, a, b, n) },
  both: { cost: 2, inside: true, takes: ['numbers', 'numbers'], gives: 'numbers', bind: (k) => (d, a, b, n) => k.both(d, a, b, n) },
  between: {
    cost: 2,
    inside: true,
    takes: ['numbers', 'numbers'],
    gives: 'numbers',
    bind:
      (k, [t = 0]) =>
      (d, a, b, n) =>
        k.fade(d, a, b, n, t),
  },
  amountMoments: { cost: 3, takes: ['colour', 'numbers'], gives: 'numbers', bind: (k) => (d, a, b, n) => k.amountMoments(d, a, b, n) },
  guided: { cost: 3, inside: true, takes: ['colour', 'numbers'], gives: 'numbers', bind: (k) => (d, a, b, n) => k.guided(d, a, b, n) },
  brush: {
    placed: true,
    cost: 30,
    inside: true,
    takes: ['numbers'],
    gives: 'numbers',
    bind: (k, _, table, line) => (d, a, _b, n, x, y) => k.brush(d, a, n, x, y, table, line),
  },
  lights: {
    placed: true,
    cost: 30,
    takes: ['numbers'],
    gives: 'numbers',
    bind: (k, _, table, line) => (d, a, _b, n, x, y) => k.lights(d, a, n, x, y, table, line),
  },
  exposed: {
    cost: 12,
    takes: ['colour', 'numbers'],
    gives: 'colour',
    bind:
      (k, [stops = 0, whites = 0, soft = 0]) =>
      (d, a, b, n) =>
        k.exposed(d, a, b, n, stops, whites, soft),
  },
  sum: {
    cost: 2,
    takes: ['colour', 'colour'],
    gives: 'colour',
    bind:
      (k, [ka = 1, kb = 1]) =>
      (d, a, b, n) =>
        k.sum(d, a, b, n, ka, kb),
  },
  shoulder: {
    cost: 4,
    inside: true,
    ...colour,
    bind:
      (k, [knee = 0]) =>
      (d, a, _b, n) =>
        k.shoulder(d, a, n, knee),
  },
  crisp: {
    cost: 5,
    takes: ['colour', 'colour'],
    gives: 'colour',
    bind:
      (k, [amount = 0, threshold = 0, light = 1, dark = 1]) =>
      (d, a, b, n) =>
        k.crisp(d, a, b, n, amount, threshold, light, dark),
  },
  dust: { cost: 70, ...somewhere, bind: (k, _, table) => (d, _a, _b, n, x, y) => k.dust(d, n, x, y, table) },
  weighed: {
    cost: 2,
    premultiplied: true,
    nothingByNone: true,
    takes: ['colour', 'numbers'],
    gives: 'numbers',
    bind: (k) => (d, a, b, n) => k.weighed(d, a, b, n),
  },
  evened: { cost: 5, takes: ['colour', 'numbers'], gives: 'colour', bind: (k) => (d, a, b, n) => k.evened(d, a, b, n) },
  shared: { cost: 3, takes: ['numbers', 'numbers'], gives: 'numbers', bind: (k) => (d, a, b, n) => k.shared(d, a, b, n) },
  lesser: { cost: 2, inside: true, takes: ['numbers', 'numbers'], gives: 'numbers', bind: (k) => (d, a, b, n) => k.lesser(d, a, b, n) },
  beyond: { cost: 8, ...somewhere, bind: (k, _, table) => (d, _a, _b, n, x, y) => k.beyond(d, n, x, y, table) },
  quad: { cost: 4, ...somewhere, bind: (k, _, table) => (d, _a, _b, n, x, y) => k.quad(d, n, x, y, table) },
  colourOf: { cost: 1, premultiplied: true, takes: ['numbers'], gives: 'colour', bind: (k) => (d, a, _b, n) => k.colourOf(d, a, n) },
  alphaOf: { cost: 1, inside: true, takes: ['numbers'], gives: 'numbers', bind: (k) => (d, a, _b, n) => k.alphaOf(d, a, n) },
  paper: { cost: 90, ...somewhere, bind: (k, _, table) => (d, _a, _b, n, x, y) => k.paper(d, n, x, y, table) },
  shaded: {
    cost: 2,
    takes: ['colour', 'numbers'],
    gives: 'colour',
    bind:
      (k, [amount = 0]) =>
      (d, a, b, n) =>
        k.shaded(d, a, b, n, amount),
  },
  greys: { cost: 1, inside: true, takes: ['numbers'], gives: 'numbers', bind: (k) => (d, a, _b, n) => k.greys(d, a, n) },
} as const satisfies Record<string, Op>;

export type OpId = keyof typeof ops;

export const opOf = (id: OpId): Op => ops[id];

/** Conversions that undo each other. */
export const undoes: Partial<Record<OpId, OpId>> = {
  toLinear: 'fromLinear',
  fromLinear: 'toLinear',
  toOklab: 'fromOklab',
  fromOklab: 'toOklab',
  toOklabP3: 'fromOklabP3',
  fromOklabP3: 'toOklabP3',
};

/** Operations that mean the same for a picture with the primaries of Display P3, where those of sRGB are meant otherwise. */
const ofP3: Partial<Record<OpId, OpId>> = { toOklab: 'toOklabP3', fromOklab: 'fromOklabP3' };
/** The operation that an expression stands for in a picture of some primaries. */
export const opIn = (gamut: Gamut, op: OpId): OpId => (gamut === 'srgb' ? op : (ofP3[op] ?? op));
