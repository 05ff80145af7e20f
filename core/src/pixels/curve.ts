import { z } from 'zod';
import { TABLE_ENTRIES } from '../pixels/kernels';

export const MAX_NODES = 256;
/** Nodes stand at least this far apart, so that a slope stays finite. */
export const NODE_GAP = 1e-4;

const node = z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)]);

/** A curve over 0..1: nodes from left to right, joined straight or smoothly, level beyond the ends. */
export const curveSchema = z.strictObject({
  shape: z.enum(['straight', 'smooth']),
  nodes: z
    .array(node)
    .min(2, 'A curve needs at least two nodes.')
    .max(MAX_NODES, `A curve takes at most ${MAX_NODES} nodes.`)
    .refine(
      (nodes) => nodes.every(([x], i) => i === 0 || x - (nodes[i - 1]?.[0] ?? 0) >= NODE_GAP),
      'The nodes of a curve must go from left to right.',
    ),
});
export type Curve = z.infer<typeof curveSchema>;
export type Node = Curve['nodes'][number];

/** A curve that is 1 everywhere. */
export const level: Curve = {
  shape: 'straight',
  nodes: [
    [0, 1],
    [1, 1],
  ],
};

export const isLevel = ({ nodes }: Curve): boolean => nodes.every(([, y]) => y === 1);

/**
 * Slopes at the nodes by F. Fritsch and R. Carlson, "Monotone Piecewise Cubic Interpolation" (SIAM J. Numer. Anal. 17, 1980):
 * the curve never leaves the range of two neighbouring nodes, whether it rises, falls or turns.
 */
export function slopes(nodes: readonly Node[]): number[] {
  const secant = nodes.slice(1).map(([x, y], i) => {
    const [px, py] = nodes[i] as Node;
    return (y - py) / (x - px);
  });
  const m = nodes.map((_, i) => {
    const left = secant[i - 1];
    const right = secant[i];
    if (left === undefined || right === undefined) return left ?? right ?? 0;
    return left * right <= 0 ? 0 : (left + right) / 2;
  });
  secant.forEach((s, i) => {
    const a = m[i] as number;
    const b = m[i + 1] as number;
    if (s === 0) {
      m[i] = 0;
      m[i + 1] = 0;
      return;
    }
    const size = Math.hypot(a / s, b / s);
    if (size <= 3) return;
    m[i] = (3 * a) / size;
    m[i + 1] = (3 * b) / size;
  });
  return m;
}

/** The curve as a function of 0..1; outside it holds the value of the end. */
export function curveFunction({ shape, nodes }: Curve): (x: number) => number {
  const m = shape === 'smooth' ? slopes(nodes) : [];
  return (x) => {
    const first = nodes[0] as Node;
    const last = nodes.at(-1) as Node;
    if (x <= first[0]) return first[1];
    if (x >= last[0]) return last[1];
    const i = nodes.findIndex(([nx]) => nx > x) - 1;
    const [x0, y0] = nodes[i] as Node;
    const [x1, y1] = nodes[i + 1] as Node;
    const h = x1 - x0;
    const t = (x - x0) / h;
    if (shape === 'straight') return y0 + (y1 - y0) * t;
    const [m0, m1] = [m[i] as number, m[i + 1] as number];
    return y0 * (1 + 2 * t) * (1 - t) ** 2 + m0 * h * t * (1 - t) ** 2 + y1 * t * t * (3 - 2 * t) + m1 * h * t * t * (t - 1);
  };
}

/**
 * A function of 0..1 as the kernels read it: pairs (value, step to the next), entry i at the input (i / (entries - 1))^2, so that
 * the darks, where tones lie close, get the most entries.
 */
export function tabulate(f: (x: number) => number): Float32Array {
  const last = TABLE_ENTRIES - 1;
  const values = Float64Array.from({ length: TABLE_ENTRIES }, (_, i) => f((i / last) ** 2));
  const table = new Float32Array(2 * TABLE_ENTRIES);
  values.forEach((value, i) => {
    table[2 * i] = value;
    table[2 * i + 1] = (values[i + 1] ?? value) - value;
  });
  return table;
}
