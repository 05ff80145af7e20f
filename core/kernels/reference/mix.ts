import { composite } from '../../src/blend/composite';
import { modes, type ModeId } from '../../src/blend';
import type { Views } from './views';

type Camel<S extends string> = S extends `${infer A}-${infer B}` ? `${Capitalize<A>}${Camel<B>}` : Capitalize<S>;
export type MixKernel = (d: number, b: number, s: number, n: number, k: number, amounts: number, keep: 0 | 1) => void;
export type MixName = `mix${Camel<ModeId>}` | `mix${Camel<ModeId>}Alpha`;
export type MixKernels = Record<MixName, MixKernel>;

/** Name of the kernel of a mode. */
export function mixName(mode: ModeId, opaque: boolean): MixName {
  const camel = mode.replace(/(^|-)([a-z])/g, (_match, _dash: string, letter: string) => letter.toUpperCase());
  return `mix${camel}${opaque ? '' : 'Alpha'}` as MixName;
}

/** Twins of kernels/wasm/mix.ts: the formulas of the modes themselves. */
export function mix(m: Views): MixKernels {
  const all = modes.flatMap((mode) => {
    const run: MixKernel = (d, b, s, n, k, amounts, keep) => {
      for (let i = 0; i < n; i++) {
        const amount = amounts ? m.f(amounts + 4 * i) : k;
        m.setPx(d + 16 * i, composite(mode, m.px(b + 16 * i), m.px(s + 16 * i), amount, keep));
      }
    };
    return [true, false].map((opaque) => [mixName(mode.id, opaque), run] as const);
  });
  return Object.fromEntries(all) as MixKernels;
}
