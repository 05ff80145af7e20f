import { composite } from '../../src/blend/composite';
import { modes, type ModeId } from '../../src/blend';
import type { Px, Views } from './views';

type Camel<S extends string> = S extends `${infer A}-${infer B}` ? `${Capitalize<A>}${Camel<B>}` : Capitalize<S>;
/** `inside` says that all lies in 0..1; forms with alpha do not heed it. */
export type MixKernel = (d: number, b: number, s: number, n: number, k: number, coverage: number, last: number, inside?: boolean) => void;
export type MixName = `mix${Camel<ModeId>}` | `mix${Camel<ModeId>}Alpha`;
export type MixKernels = Record<MixName, MixKernel>;

/** Name of the kernel of a mode. */
export function mixName(mode: ModeId, opaque: boolean): MixName {
  const camel = mode.replace(/(^|-)([a-z])/g, (_match, _dash: string, letter: string) => letter.toUpperCase());
  return `mix${camel}${opaque ? '' : 'Alpha'}` as MixName;
}

const solid = ([r, g, b]: Px): Px => [r, g, b, 1];
const grey = (v: number): Px => [v, v, v, 1];

/** Twins of kernels/wasm/mix.ts: the formulas of the modes themselves. */
export function mix(m: Views): MixKernels {
  const all = modes.flatMap((mode) => {
    const alpha: MixKernel = (d, b, s, n, k, coverage, keep) => {
      for (let i = 0; i < n; i++) {
        const amount = coverage ? m.f(coverage + 4 * i) : k;
        m.setPx(d + 16 * i, composite(mode, m.px(b + 16 * i), m.px(s + 16 * i), amount, keep ? 1 : 0));
      }
    };
    // Four colours to a vector, of which the fourth may be alpha, 1 in both, and stays then.
    const opaque: MixKernel = (d, b, s, n, k, coverage, last) => {
      for (let i = 0; i < n; i++) {
        const amount = coverage ? m.f(coverage + 4 * i) : k;
        const [under, over] = [m.px(b + 16 * i), m.px(s + 16 * i)];
        const [red, green, blue] = composite(mode, solid(under), solid(over), amount, 0);
        m.setPx(d + 16 * i, [red, green, blue, last ? composite(mode, grey(under[3]), grey(over[3]), last, 0)[0] : under[3]]);
      }
    };
    return [[mixName(mode.id, true), opaque] as const, [mixName(mode.id, false), alpha] as const];
  });
  return Object.fromEntries(all) as MixKernels;
}
