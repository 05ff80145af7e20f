import { unit } from '../clamp';
import { tabulate } from '../pixels/curve';
import type { Table } from '../expressions/image';

/** Steps of a table by lightness or hue; one more stands at the end. */
const STEPS = 1024;

/** A tone table for all channels. `id` names the function with all it depends on. */
export const toneTable = (id: string, f: (x: number) => number): Table => ({ id, make: () => tabulate(f) });

/** A tone table each for red, green and blue. */
export function channelTables(id: string, fs: readonly [(x: number) => number, (x: number) => number, (x: number) => number]): Table {
  return {
    id,
    make: () => {
      const tables = fs.map(tabulate);
      const all = new Float32Array(tables.reduce((sum, t) => sum + t.length, 0));
      tables.forEach((t, i) => all.set(t, i * t.length));
      return all;
    },
  };
}

/** What is added to OKLab lightness, a and b at a lightness, and what chroma is multiplied by first. */
export interface ToneChange {
  readonly lift: number;
  readonly a: number;
  readonly b: number;
  readonly keep: number;
}

/** For `byTone`: a change for each lightness 0..1. */
export const lightnessTable = (id: string, f: (lightness: number) => ToneChange): Table => ({
  id,
  make: () =>
    Float32Array.from(
      Array.from({ length: STEPS + 1 }, (_, i) => {
        const { lift, a, b, keep } = f(Math.min(1, i / (STEPS - 1)));
        return [lift, a, b, keep];
      }).flat(),
    ),
});

/** What is done at a hue: lightness added, chroma times gain, hue turned. */
export interface HueChange {
  readonly lift: number;
  readonly gain: number;
  readonly turnDeg: number;
}

/** For `byHue`: a change for each OKLab hue in degrees. Entries go round the diamond |a| + |b| = 1, from +a over +b. */
export const hueTable = (id: string, f: (hueDeg: number) => HueChange): Table => ({
  id,
  make: () =>
    Float32Array.from(
      Array.from({ length: STEPS + 2 }, (_, i) => {
        const { lift, gain, turnDeg } = f(hueOnDiamond((i % STEPS) / (STEPS / 4)));
        const turn = (turnDeg * Math.PI) / 180;
        return [lift, gain * Math.cos(turn), gain * Math.sin(turn), 0];
      }).flat(),
    ),
});

/** Degrees of a place 0..4 on the diamond. */
function hueOnDiamond(round: number): number {
  const [a, b] = round <= 2 ? [1 - round, 1 - Math.abs(1 - round)] : [round - 3, Math.abs(round - 3) - 1];
  return (Math.atan2(b, a) * (180 / Math.PI) + 360) % 360;
}

/** Cartesian OKLab colour of a hue in degrees and a chroma. */
export const tint = (hueDeg: number, chroma: number): { a: number; b: number } => {
  const hue = (hueDeg * Math.PI) / 180;
  return { a: chroma * Math.cos(hue), b: chroma * Math.sin(hue) };
};

/** 0 up to `from`, 1 from `to` on, smooth between (Hermite). */
export function rise(from: number, to: number, x: number): number {
  const t = unit((x - from) / (to - from));
  return t * t * (3 - 2 * t);
}
