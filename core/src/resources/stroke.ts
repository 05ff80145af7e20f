import { unit } from '../clamp';
import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import { z } from 'zod';

export const MOST_POINTS = 20_000;
export const MOST_STROKES = 20_000;
/** Points of a painting, all strokes together. */
export const MOST_PAINTED = 1_000_000;
/** Places are kept to a hundred-thousandth of the long edge, pressure to a hundredth, times to a millisecond. */
const FINE = 1e5;
const PRESS = 100;
const EACH = 4;

const strokeId = z.string().regex(/^[0-9a-f]{32}$/, 'A stroke is named by 32 hexadecimal digits.');

/** One stroke, as it is kept: never changed once it is made. */
export const strokeSchema = z.strictObject({
  /** Radius, a fraction of the long edge. */
  size: z.number().min(0.0005).max(1),
  /** Share of the radius in which it fades. */
  softness: z.number().min(0).max(1),
  /** How much it covers at full pressure; for a map of light, its step in stops. */
  flow: z.number().min(0.005).max(1),
  /** It takes away what others gave. */
  erase: z.boolean(),
  /** What the pressure of a pen changes. */
  pressure: z.enum(['none', 'flow', 'size']),
  /** Its points as whole numbers, four each: across and down the photo, pressure, milliseconds; the first as it is, all others by what they differ from the last. */
  trace: z
    .array(z.number().int().min(-1e7).max(1e7))
    .min(EACH, 'A stroke has at least one point.')
    .max(EACH * MOST_POINTS, `A stroke has at most ${MOST_POINTS} points.`)
    .refine((trace) => trace.length % EACH === 0, 'The points of a stroke are four numbers each.'),
});
export type Stroke = z.infer<typeof strokeSchema>;

/** A stroke and the one before it, by which a whole painting is named: that of its last stroke. */
export const paintedSchema = z.strictObject({ after: z.union([z.literal(''), strokeId]), stroke: strokeSchema });
export type Painted = z.infer<typeof paintedSchema>;

/** A point of a stroke: its place on the photo in shares of the long edge, pressure 0..1, and when. */
export interface StrokePoint {
  readonly x: number;
  readonly y: number;
  readonly pressure: number;
  readonly ms: number;
}

export function traceOf(points: readonly StrokePoint[]): number[] {
  const whole = points.map(({ x, y, pressure, ms }) => [Math.round(x * FINE), Math.round(y * FINE), Math.round(pressure * PRESS), Math.round(ms)]);
  return whole.flatMap((point, i) => point.map((v, c) => v - (whole[i - 1]?.[c] ?? 0)));
}

export function pointsOf({ trace }: Pick<Stroke, 'trace'>): StrokePoint[] {
  const points: StrokePoint[] = [];
  let [x, y, pressure, ms] = [0, 0, 0, 0];
  for (let i = 0; i < trace.length; i += EACH) {
    x += trace[i] as number;
    y += trace[i + 1] as number;
    pressure += trace[i + 2] as number;
    ms += trace[i + 3] as number;
    points.push({ x: x / FINE, y: y / FINE, pressure: unit(pressure / PRESS), ms });
  }
  return points;
}

/** The name of a painted stroke, by its content. */
export function nameOf({ after, stroke: { size, softness, flow, erase, pressure, trace } }: Painted): string {
  const text = JSON.stringify([after, size, softness, flow, erase, pressure, trace]);
  return bytesToHex(sha256(utf8ToBytes(text))).slice(0, 32);
}

/** A painted stroke under its name, where that is known already: to make it is work. */
export type NamedStroke = readonly [name: string, painted: Painted];
export const named = (painted: Painted): NamedStroke => [nameOf(painted), painted];
