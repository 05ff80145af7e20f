import { clamp, straight, type Px, type Views } from './views';

/** C. Wellons, "Prospecting for Hash Functions", 2018 (public domain). */
export function scramble(h: number): number {
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  return (h ^ (h >>> 16)) >>> 0;
}

/** Entries of a tone table. */
const ENTRIES = 4096;
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
  const folded = (d: number, n: number, table: number, greys: number, read: (i: number, c: number) => number): void =>
    triples(d, n, (i, c) => m.f(table + (c === 2 ? 8 * (greys + read(i, 2)) : 4 * (c * greys + read(i, c)))));
  const straightAt = (s: number, i: number): Px => {
    const p = m.px(s + 16 * i);
    const [r, g, b] = straight(p);
    return [r, g, b, p[3]];
  };
  const triples = (d: number, n: number, read: (i: number, c: number) => number): void =>
    eachPixel(n, (i) =>
      m.setTriple(
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
  const tripleAt = (s: number, i: number): Px => m.triple(s + 12 * i);

  return {
    copy: (d: number, s: number, n: number): void => void m.u8.copyWithin(d, s, s + 16 * n),
    loadTriples8: (d: number, s: number, n: number): void => triples(d, n, (i, c) => (m.u8[s + 3 * i + c] as number) / 255),
    loadTriples16: (d: number, s: number, n: number): void => triples(d, n, (i, c) => m.u16(s + 6 * i + 2 * c) / 65535),
    ramp: (d: number, from: number, n: number, top: number): void =>
      eachPixel(n, (i) => {
        const v = (from + i) / top;
        m.setPx(d + 16 * i, [v, v, v, 1]);
      }),
    squares: (d: number, from: number, n: number, top: number): void =>
      eachPixel(n, (i) => {
        const v = ((from + i) / top) ** 2;
        m.setPx(d + 16 * i, [v, v, v, 1]);
      }),
    tables: (d: number, s: number): number => {
      let worst = 0;
      for (let i = 0; i < ENTRIES; i++)
        for (let c = 0; c < 3; c++) {
          const value = (entry: number): number => m.f(s + 16 * entry + 4 * c);
          const step = i + 1 < ENTRIES ? value(2 * i + 2) - value(2 * i) : 0;
          m.setF(d + 8 * (c * ENTRIES + i), value(2 * i));
          m.setF(d + 8 * (c * ENTRIES + i) + 4, step);
          if (i + 1 < ENTRIES) worst = Math.max(worst, Math.abs(value(2 * i) + step / 2 - value(2 * i + 1)));
        }
      return worst;
    },
    apart: (d: number, s: number, from: number, n: number, greys: number): void =>
      eachPixel(n, (i) => {
        const [r, g, b, a] = m.px(s + 16 * i);
        m.setF(d + 4 * (from + i), r);
        m.setF(d + 4 * (greys + from + i), g);
        m.setF(d + 8 * (greys + from + i), b);
        m.setF(d + 8 * (greys + from + i) + 4, a);
      }),
    foldTriples8: (d: number, s: number, n: number, table: number): void => folded(d, n, table, 256, (i, c) => m.u8[s + 3 * i + c] as number),
    foldTriples16: (d: number, s: number, n: number, table: number): void => folded(d, n, table, 65536, (i, c) => m.u16(s + 6 * i + 2 * c)),
    loadRgba8: (d: number, s: number, n: number): void => load(d, n, (i, c) => (m.u8[s + 4 * i + c] as number) / 255),
    loadRgba16: (d: number, s: number, n: number): void => load(d, n, (i, c) => m.u16(s + 8 * i + 2 * c) / 65535),
    /** The twins work their noise out, pixel by pixel. */
    sow: (_d: number): void => undefined,
    storeTriples8: store8(3, tripleAt),
    storeScreen: store8(4, tripleAt),
    storeRgba8: store8(4, straightAt),
    storeTriples16: store16(3, tripleAt),
    storeRgba16: store16(4, straightAt),
  };
}
