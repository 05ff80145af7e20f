import type { Kernels } from '../pixels/kernels';

/** Work on n pixels at (x, y): from a, and b where there are two inputs, to d. */
export type Run = (d: number, a: number, b: number, n: number, x: number, y: number) => void;

/** Bound once for a pass: its numbers, where its table lies, and a line of scratch. */
export type Bind = (k: Kernels, numbers: readonly number[], table: number, line: number) => Run;

/** An inner loop as the engine sees it. */
interface Op {
  /** Each channel comes from itself alone, by the same rule wherever the pixel is: one rule for all channels, or one for each. */
  readonly channelwise?: 'alike' | 'apart';
  /** It makes nothing beyond 0..1 out of what lies there. */
  readonly inside?: true;
  /** Which inputs must be straight colour, and whether the result is. `own` minds alpha by itself. */
  readonly alpha: 'own' | { readonly straight: readonly boolean[]; readonly gives: boolean };
  /** The same on a row of triples. */
  readonly triples?: Bind;
  /** Nanoseconds that an opaque pixel takes, about, at 2.5 GHz with nothing else going on. */
  readonly cost: number;
  readonly bind: Bind;
}

const straight = { straight: [true], gives: true } as const;
const guided = { straight: [true, true], gives: true } as const;

/** All inner loops that expressions can ask for. */
export const ops = {
  affine: {
    cost: 1,
    channelwise: 'alike',
    alpha: 'own',
    bind:
      (k, [gain = 1, offset = 0]) =>
      (d, a, _b, n) =>
        k.affine(d, a, n, gain, offset),
    triples:
      (k, [gain = 1, offset = 0]) =>
      (d, a, _b, n) =>
        k.affineTriples(d, a, n, gain, offset),
  },
  curve: {
    cost: 5,
    channelwise: 'alike',
    alpha: straight,
    bind: (k, _, table) => (d, a, _b, n) => void k.curve(d, a, n, table),
    triples: (k, _, table) => (d, a, _b, n) => void k.curveTriples(d, a, n, table),
  },
  curves: { cost: 6, channelwise: 'apart', alpha: straight, bind: (k, _, table) => (d, a, _b, n) => void k.curves(d, a, n, table) },
  ramps: { cost: 17, channelwise: 'apart', alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.ramps(d, a, n, table) },
  lattice: { cost: 21, alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.lattice(d, a, n, table) },
  toLinear: { cost: 5, inside: true, channelwise: 'alike', alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.toLinear(d, a, n, table) },
  fromLinear: { cost: 5, inside: true, channelwise: 'alike', alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.fromLinear(d, a, n, table) },
  toOklab: { cost: 15, alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.toOklab(d, a, n, table) },
  fromOklab: { cost: 8, alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.fromOklab(d, a, n, table) },
  matrix: {
    cost: 2,
    alpha: straight,
    bind: (k, _, table) => (d, a, _b, n) => k.matrix(d, a, n, table),
    triples: (k, _, table) => (d, a, _b, n) => k.matrixTriples(d, a, n, table),
  },
  raise: {
    cost: 11,
    channelwise: 'alike',
    alpha: straight,
    bind:
      (k, [pre = 1, power = 1, post = 1]) =>
      (d, a, _b, n) =>
        k.raise(d, a, n, pre, power, post),
  },
  cdl: { cost: 13, alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.cdl(d, a, n, table) },
  byTone: { cost: 4, alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.byTone(d, a, n, table) },
  byHue: {
    cost: 6,
    alpha: straight,
    bind:
      (k, [knee = 1], table) =>
      (d, a, _b, n) =>
        k.byHue(d, a, n, table, knee),
  },
  chroma: {
    cost: 5,
    alpha: straight,
    bind:
      (k, [gain = 0, protect = 0]) =>
      (d, a, _b, n) =>
        k.chroma(d, a, n, gain, protect),
  },
  moments: { cost: 2, alpha: straight, bind: (k) => (d, a, _b, n) => k.moments(d, a, n) },
  fitLine: {
    cost: 5,
    alpha: straight,
    bind:
      (k, [least = 0]) =>
      (d, a, _b, n) =>
        k.fitLine(d, a, n, least),
  },
  detail: {
    cost: 3,
    alpha: guided,
    bind:
      (k, [amount = 0]) =>
      (d, a, b, n) =>
        k.detail(d, a, b, n, amount),
  },
  shade: { cost: 6, alpha: straight, bind: (k, _, table) => (d, a, _b, n) => k.shade(d, a, n, table) },
  shadeMoments: {
    cost: 6,
    alpha: { straight: [true, true], gives: false },
    bind: (k, _, table) => (d, a, b, n) => k.shadeMoments(d, a, b, n, table),
  },
  fitShade: {
    cost: 6,
    alpha: { straight: [false], gives: false },
    bind:
      (k, [least = 0]) =>
      (d, a, _b, n) =>
        k.fitShade(d, a, n, least),
  },
  clear: {
    cost: 11,
    alpha: { straight: [true, false], gives: true },
    bind:
      (k, [amount = 0, air = 1]) =>
      (d, a, b, n) =>
        k.clear(d, a, b, n, amount, air),
  },
  grain: {
    cost: 30,
    alpha: straight,
    bind:
      (k, [cells = 1, amount = 0, tint = 0, middle = 0, seed = 0, left = 0, top = 0], _table, line) =>
      (d, a, _b, n, x, y) =>
        k.grain(d, a, n, x + left, y + top, cells, amount, tint, middle, seed, line),
  },
} as const satisfies Record<string, Op>;

export type OpId = keyof typeof ops;

export const opOf = (id: OpId): Op => ops[id];

/** Conversions that undo each other. */
export const undoes: Partial<Record<OpId, OpId>> = {
  toLinear: 'fromLinear',
  fromLinear: 'toLinear',
  toOklab: 'fromOklab',
  fromOklab: 'toOklab',
};
