import { held, type Px, type Views } from './views';

/** Cubic convolution (R. Keys 1981, a = -1/2) at a distance from a pixel's middle. */
function weight(distance: number): number {
  const x = Math.abs(distance);
  if (x >= 2) return 0;
  return x <= 1 ? 1.5 * x ** 3 - 2.5 * x ** 2 + 1 : -0.5 * x ** 3 + 2.5 * x ** 2 - 4 * x + 2;
}

/** Twins of kernels/wasm/warp.ts. */
export function warp(m: Views) {
  return {
    warp: (d: number, s: number, sw: number, sh: number, n: number, u: number, v: number, w: number, du: number, dv: number, dw: number): void => {
      for (let k = 0; k < n; k++) {
        const [x, y] = [(u + k * du) / (w + k * dw), (v + k * dv) / (w + k * dw)];
        const sum: Px = [0, 0, 0, 0];
        for (let j = Math.floor(y) - 1; j <= Math.floor(y) + 2; j++)
          for (let i = Math.floor(x) - 1; i <= Math.floor(x) + 2; i++) {
            const share = weight(x - i) * weight(y - j);
            m.px(s + 16 * (held(j, sh) * sw + held(i, sw))).forEach((value, c) => (sum[c] = (sum[c] as number) + share * value));
          }
        m.setPx(d + 16 * k, sum);
      }
    },
  };
}
