import { clamp, straight, type Px, type Views } from './views';

/** C. Wellons, "Prospecting for Hash Functions", 2018 (public domain). */
export function scramble(h: number): number {
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  return (h ^ (h >>> 16)) >>> 0;
}

/** Pixels after which the noise comes again, both ways. */
const NOISE = 128;
/** Noise of a pixel: a byte each for red, green and blue; 128, which is plain rounding, for alpha. */
export function noise(x: number, y: number): [number, number, number, number] {
  const h = scramble((Math.imul(x % NOISE, 0x85ebca77) + Math.imul(y % NOISE, 0x9e3779b1)) | 0);
  return [h & 255, (h >>> 8) & 255, (h >>> 16) & 255, 128];
}

const evenRound = (v: number): number => {
  const low = Math.floor(v);
  const rest = v - low;
  return rest > 0.5 || (rest === 0.5 && low % 2 !== 0) ? low + 1 : low;
};
const level8 = (v: number, byte: number): number => clamp((evenRound(clamp(Math.fround(v * 65280), -65280, 130560)) + byte) >> 8, 0, 255);
const level16 = (v: number): number => evenRound(clamp(Math.fround(v * 65535), 0, 65535));

/** Twins of kernels/wasm/carry.ts. */
export function carry(m: Views) {
  const eachPixel = (n: number, f: (i: number) => void): void => {
    for (let i = 0; i < n; i++) f(i);
  };
  const load = (d: number, n: number, read: (i: number, c: number) => number): void =>
    eachPixel(n, (i) => {
      const a = read(i, 3);
      m.setPx(d + 16 * i, [read(i, 0) * a, read(i, 1) * a, read(i, 2) * a, a]);
    });
  const straightAt = (s: number, i: number): Px => {
    const p = m.px(s + 16 * i);
    const [r, g, b] = straight(p);
    return [r, g, b, p[3]];
  };
  const rgbRows = (d: number, n: number, read: (i: number, c: number) => number): void =>
    eachPixel(n, (i) =>
      m.setRgb(
        d + 12 * i,
        [0, 1, 2].map((c) => read(i, c)),
      ),
    );
  const store8 = (channels: 3 | 4, at: (s: number, i: number) => Px) => (d: number, s: number, n: number, x: number, y: number, _noise: number) =>
    eachPixel(n, (i) => {
      const p = at(s, i);
      const bytes = noise(x + i, y);
      for (let c = 0; c < channels; c++) m.u8[d + channels * i + c] = level8(p[c] as number, bytes[c] as number);
    });
  const store16 = (channels: 3 | 4, at: (s: number, i: number) => Px) => (d: number, s: number, n: number) =>
    eachPixel(n, (i) => {
      const p = at(s, i);
      for (let c = 0; c < channels; c++) m.setU16(d + 2 * (channels * i + c), level16(p[c] as number));
    });
  const rgbAt = (s: number, i: number): Px => m.rgb(s + 12 * i);

  return {
    copy: (d: number, s: number, n: number): void => void m.u8.copyWithin(d, s, s + 16 * n),
    loadRgbRows8: (d: number, s: number, n: number): void => rgbRows(d, n, (i, c) => (m.u8[s + 3 * i + c] as number) / 255),
    loadRgbRows16: (d: number, s: number, n: number): void => rgbRows(d, n, (i, c) => m.u16(s + 6 * i + 2 * c) / 65535),
    loadRgba8: (d: number, s: number, n: number): void => load(d, n, (i, c) => (m.u8[s + 4 * i + c] as number) / 255),
    loadRgba16: (d: number, s: number, n: number): void => load(d, n, (i, c) => m.u16(s + 8 * i + 2 * c) / 65535),
    /** The twins work their noise out, pixel by pixel. */
    sow: (_d: number): void => undefined,
    storeRgbRows8: store8(3, rgbAt),
    storeScreen: store8(4, rgbAt),
    storeRgba8: store8(4, straightAt),
    storeRgbRows16: store16(3, rgbAt),
    storeRgba16: store16(4, straightAt),
  };
}
