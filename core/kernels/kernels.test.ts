import { sequence } from '../test/kernels';
import { N, IN, IN2, OUT, TABLE, LINE, SMALL, NOISE, ROUGH, both, bytesIn, opaque, expectSame, expectSameBytes } from '../test/twins';
import { tabulate } from '../src/pixels/curve';
import { grainTaps } from '../src/expressions/grain';
import { decode, encode } from '../src/pixels/colour';
import { edgeOf } from '../src/pixels/gamut';
import type { Kernels } from '../src/pixels/kernels';

describe('WebAssembly kernels and their twins', () => {
  it.each(['loadRgba8', 'loadRgba16'] as const)('%s', (name) => expectSame((k) => k[name](OUT, IN, N), 4 * N, bytesIn));
  it.each(['loadRgbRows8', 'loadRgbRows16'] as const)('%s', (name) => expectSame((k) => k[name](OUT, IN, N), 3 * N, bytesIn));

  it.each([
    ['storeRgbRows8', 3, true],
    ['storeScreen', 4, true],
    ['storeRgba8', 4, false],
    ['storeRgbRows16', 6, true],
    ['storeRgba16', 8, false],
  ] as const)('%s, of one pixel and of many', async (name, bytes, solid) => {
    for (const n of [1, 2, 3, 4, 5, 6, 7, N, 300])
      await expectSameBytes((k) => (k.sow(NOISE), k[name](OUT, IN, n, 110, 301, NOISE)), bytes * n, solid ? opaque : undefined);
  });

  it.each([
    ['storeRgbRows8', 3],
    ['storeScreen', 4],
    ['storeRgbRows16', 6],
  ] as const)('%s writes not a byte too many', async (name, bytes) => {
    const [fast] = await both();
    for (let n = 1; n < 20; n++) {
      fast.u.fill(77, OUT, OUT + 256);
      fast.k[name](OUT + 16, IN, n, 0, 0, NOISE);
      expect([fast.u[OUT + 15], fast.u[OUT + 16 + bytes * n]]).toEqual([77, 77]);
    }
  });

  it.each([
    ['bakeRgbRows8', 256],
    ['bakeRgbRows16', 65536],
  ] as const)('ramp, apart and %s', (name, greys) =>
    expectSame(
      (k) => {
        const table = 1 << 20;
        for (let from = 0; from < greys; from += 256) {
          k.ramp(OUT, from, 256, greys - 1);
          k.affine(OUT, OUT, 256, 0.7, 0.1);
          k.apart(table, OUT, from, 256, greys);
        }
        k[name](OUT, IN, N, table);
      },
      3 * N,
      bytesIn,
    ),
  );
  it('pairs and bakePairs8, for channels that are alike', () =>
    expectSame(
      (k) => {
        const [table, twos] = [1 << 20, (1 << 20) + 4096];
        k.ramp(OUT, 0, 256, 255);
        k.affine(OUT, OUT, 256, 0.7, 0.1);
        k.apart(table, OUT, 0, 256, 256);
        expect(Boolean(k.pairs(twos, table))).toBe(true);
        k.bakePairs8(OUT, IN, N, twos);
      },
      3 * N,
      bytesIn,
    ));
  const screened = (k: Pick<Kernels, 'ramp' | 'affine' | 'mixScreen' | 'apart'>, table: number, greys: number): void => {
    for (let from = 0; from < greys; from += 256) {
      k.ramp(OUT, from, 256, greys - 1);
      k.affine(IN2, OUT, 256, 0.6, 0.1);
      k.mixScreen(OUT, IN2, IN2, 256, 0.8, 0, 0, true);
      k.apart(table, OUT, from, 256, greys);
    }
  };
  it.each([
    ['bakeBends8', 256],
    ['bakeBends16', 65536],
  ] as const)('bends and %s, of tables that are parabolas', (name, greys) =>
    expectSame(
      (k) => {
        const [table, bends] = [1 << 20, (1 << 20) - 256];
        screened(k, table, greys);
        expect(Boolean(k.bends(bends, table, greys))).toBe(true);
        k[name](OUT, IN, N, bends);
        // What the table itself says.
        k[name === 'bakeBends8' ? 'bakeRgbRows8' : 'bakeRgbRows16'](IN2, IN, N, table);
        k.copy(OUT + 12 * N, IN2, 24);
      },
      6 * N,
      bytesIn,
    ),
  );
  it('bends, of one parabola for each channel', async () => {
    for (const { k, f, u } of await both()) {
      const [table, bends] = [1 << 20, (1 << 20) - 256];
      for (let i = 0; i < 256; i++)
        [i / 255, (i / 255) ** 2, 1 - i / 510].forEach((v, c) => (f[(table + (c === 2 ? 2048 + 8 * i : 1024 * c + 4 * i)) / 4] = v));
      expect(Boolean(k.bends(bends, table, 256))).toBe(true);
      u.set([51, 102, 255, 255, 0, 0], IN);
      k.bakeBends8(OUT, IN, 2, bends);
      [0.2, 0.16, 0.5, 1, 0, 1].forEach((v, i) => expect(f[OUT / 4 + i]).toBeCloseTo(v, 6));
    }
  });
  it.each([
    [1 << 20, 'red'],
    [(1 << 20) + 1024, 'green'],
    [(1 << 20) + 2048 + 4 * 77, 'blue'],
  ])('bends, told at %d that %s follows none', async (at) => {
    for (const { k, f } of await both()) {
      const [table, bends] = [1 << 20, (1 << 20) - 256];
      screened(k, table, 256);
      f[at / 4 + 77] = (f[at / 4 + 77] as number) + 1e-6;
      expect(Boolean(k.bends(bends, table, 256))).toBe(false);
    }
  });
  it.each([0, 1024, 2048])('pairs, told that channels differ at %d', async (at) => {
    for (const { k, f } of await both()) {
      const [table, twos] = [1 << 20, (1 << 20) + 4096];
      k.ramp(OUT, 0, 256, 255);
      k.apart(table, OUT, 0, 256, 256);
      f[(table + at) / 4 + 254] = 0.3;
      expect(Boolean(k.pairs(twos, table))).toBe(false);
    }
  });
  it('squares and tables, whose error is told', async () => {
    const errors: number[] = [];
    await expectSame(
      (k) => {
        const made = 1 << 20;
        k.squares(made, 0, 8192, 8190);
        k.affine(made, made, 8192, 1.3, -0.1);
        k.ramp(made + 16 * 101, 1, 1, 1);
        errors.push(k.tables(OUT, made));
      },
      3 * 8192,
      undefined,
    );
    // One of those half way is white by mistake.
    errors.forEach((error) => expect(error).toBeCloseTo(1 - (1.3 * (101 / 8190) ** 2 - 0.1), 6));
  });
  it.each([
    [0, true],
    [1.0000001, true],
    [-0.01, false],
    [1.01, false],
  ])('tone tables tell whether all values lie in them, with %f among these', async (odd, yes) => {
    for (const { k, f } of await both()) {
      f.fill(0.5, IN / 4, IN / 4 + 120);
      f[IN / 4 + 101] = odd;
      for (const name of ['curve', 'curves', 'curveRgbRows'] as const)
        expect(Boolean(k[name](OUT, IN, name === 'curveRgbRows' ? 40 : 30, TABLE))).toBe(yes);
    }
  });
  const cubeTable = (f: Float32Array): void => {
    const next = sequence(5);
    f.set([5, 4, 0, 0, 0.1, 0, -0.2, 0, 4 / 0.7, 4, 4 / 1.3, 0], SMALL / 4);
    for (let i = 0; i < 4 * 125; i++) f[SMALL / 4 + 12 + i] = next();
  };
  it('tone tables take what is no number for black', async () => {
    const [{ k, f }] = await both();
    f.fill(NaN, IN / 4, IN / 4 + 4 * N);
    for (const name of ['curve', 'curves', 'curveRgbRows'] as const) {
      k[name](OUT, IN, N, TABLE);
      expect([...f.subarray(OUT / 4, OUT / 4 + 3)]).toEqual(
        name === 'curves' ? [f[TABLE / 4], f[TABLE / 4 + 8192], f[TABLE / 4 + 16384]] : Array(3).fill(f[TABLE / 4]),
      );
    }
    k.level(OUT, N, 1);
    k.gate(OUT, IN, N, TABLE, 0.2, 0.7, 0.1);
    expect(f[OUT / 4]).toBe(f[TABLE / 4]);
  });
  it('other tables are not left by what is no number, or endless', async () => {
    const [{ k, f }] = await both();
    cubeTable(f);
    for (const odd of [NaN, Infinity, -Infinity]) {
      f.fill(odd, IN / 4, IN / 4 + 4 * N);
      for (const name of ['ramps', 'lattice', 'byTone', 'shade'] as const) expect(() => k[name](OUT, IN, N, SMALL)).not.toThrow();
      expect(() => k.byHue(OUT, IN, IN, N, SMALL, 0.1)).not.toThrow();
      for (const name of ['toLinear', 'fromLinear', 'toOklab', 'fromOklab'] as const) expect(() => k[name](OUT, IN, N, TABLE)).not.toThrow();
    }
  });
  it('choose', () =>
    expectSame(
      (k) => (k.affine(LINE, IN, N, 1.5, -0.3), k.choose(OUT, LINE, IN, IN2, N)),
      4 * N,
      (f) => f.fill(1.0000001, IN / 4 + 8, IN / 4 + 12),
    ));
  it('affine', () => expectSame((k) => k.affine(OUT, IN, N, 1.7, -0.2), 4 * N));
  it('affineRgbRows', () => expectSame((k) => k.affineRgbRows(OUT, IN, N, 1.7, -0.2), 3 * N));
  it('curveRgbRows', () => expectSame((k) => k.curveRgbRows(OUT, IN, N, TABLE), 3 * N));
  it('curve', () => expectSame((k) => k.curve(OUT, IN, N, TABLE), 4 * N, opaque));
  it('fade', () => expectSame((k) => k.fade(OUT, IN, IN2, N, 1.3), 4 * N));
  it.each(['gate', 'gateAlpha'] as const)('%s', (name) =>
    expectSame(
      (k) => {
        k.level(OUT, N, 0.8);
        k[name](OUT, IN, N, TABLE, 0.3, 0.5, 0.2);
      },
      N,
      name === 'gate' ? opaque : undefined,
    ),
  );
  it.each(['part', 'unite', 'moments'] as const)('%s', (name) => expectSame((k) => k[name](OUT, IN, N), 4 * N));
  it.each([
    ['toLinear', decode],
    ['fromLinear', encode],
    ['toOklab', decode],
    ['fromOklab', encode],
    ['toOklabP3', decode],
    ['fromOklabP3', encode],
  ] as const)('%s, of colours inside and outside 0..1, with its table and without', async (name, f) => {
    const colours = (at: number) => (floats: Float32Array) => {
      const next = sequence(13);
      for (let i = 0; i < 4 * N; i++) floats[IN / 4 + i] = i % 4 === 3 ? 1 : at * next() ** 2 - (at > 1 ? 0.2 : 0);
      floats.fill(0, IN / 4, IN / 4 + 3);
      floats.fill(1, IN / 4 + 4, IN / 4 + 7);
      floats.set(tabulate(f), TABLE / 4);
    };
    for (const most of [1, 2])
      for (const table of [0, TABLE])
        await expectSame(
          (k) => {
            if (name === 'fromOklab') k.toOklab(IN, IN, N, 0);
            if (name === 'fromOklabP3') k.toOklabP3(IN, IN, N, 0);
            k[name](OUT, IN, N, table);
          },
          4 * N,
          colours(most),
          // Large colours of OKLab are differences of larger ones still.
          most > 1 ? 2e-4 : 1e-5,
        );
  });
  it.each(['matrix', 'cdl', 'byTone', 'curves'] as const)('%s', (name) => expectSame((k) => k[name](OUT, IN, N, SMALL), 4 * N, undefined, ROUGH));
  it.each(['ramps', 'lattice'] as const)('%s', (name) => expectSame((k) => k[name](OUT, IN, N, SMALL), 4 * N, cubeTable, 1e-5));
  it('matrixRgbRows, in place too', async () => {
    await expectSame((k) => k.matrixRgbRows(OUT, IN, N, SMALL), 3 * N);
    await expectSame((k) => (k.copy(OUT, IN, N), k.matrixRgbRows(OUT, OUT, N, SMALL)), 3 * N);
  });
  it('rollOff', () => expectSame((k) => k.rollOff(OUT, IN, N, 0.6, 2.5), 4 * N));
  it('narrow, of colours inside sRGB, at its edge and beyond', () =>
    expectSame(
      (k) => k.narrow(OUT, IN, N, TABLE),
      4 * N,
      (floats) => {
        floats.set(edgeOf('srgb'), TABLE / 4);
        const next = sequence(17);
        for (let i = 0; i < 4 * N; i++) floats[IN / 4 + i] = i % 4 === 3 ? 1 : Math.max(0, 1.3 * next() - 0.25);
        [0, 1, 2].forEach((c) =>
          floats.set(
            [0, 1, 2, 3].map((i) => (i === c || i === 3 ? 1 : 0)),
            IN / 4 + 4 * c,
          ),
        );
        floats.set([1, 1, 1, 1, 0, 0, 0, 1, 1, 1, 0, 1, 2, 0.2, 0.1, 1], IN / 4 + 12);
      },
      1e-5,
    ));
  it('raise', () => expectSame((k) => k.raise(OUT, IN, N, 1.3, 2.2, 0.7), 4 * N));
  it('byHue', () => expectSame((k) => k.byHue(OUT, IN, IN2, N, SMALL, 0.1), 4 * N, undefined, ROUGH));
  it('chromaMoments', () => expectSame((k) => k.chromaMoments(OUT, IN, N), 4 * N));
  it('smoothed', () => expectSame((k) => k.smoothed(OUT, IN, IN2, N), 4 * N));
  it('fitColour', () => expectSame((k) => k.fitColour(OUT, IN, N, 0.01), 4 * N));
  it('chroma', () => expectSame((k) => k.chroma(OUT, IN, N, 0.6, 0.5), 4 * N));
  it('fitLine', () => expectSame((k) => k.fitLine(OUT, IN, N, 0.01), 4 * N));
  it('detail', () => expectSame((k) => k.detail(OUT, IN, IN2, N, 0.8), 4 * N));
  it('shade', () => expectSame((k) => k.shade(OUT, IN, N, SMALL), 4 * N, undefined, ROUGH));
  it('shadeMoments', () => expectSame((k) => k.shadeMoments(OUT, IN, IN2, N, SMALL), 4 * N, undefined, ROUGH));
  it('fitShade', () => expectSame((k) => k.fitShade(OUT, IN, N, 0.05), 4 * N));
  it('clear', () => expectSame((k) => k.clear(OUT, IN, IN2, N, 0.5, 0.9), 4 * N));
  it.each([1, 0.37])('grain on %d cells a pixel', (cells) => expectSame((k) => k.grain(OUT, IN, N, 301, 77, cells, 0.05, 0.5, 0.7, 9, LINE), 4 * N));
  it.each([0.37, 0.93, 1, 3.2])('film grain on %d cells a pixel, whichever way the film lies', async (cells) => {
    const { cells: walked, reach, taps, weights } = grainTaps(cells);
    for (const [way, back] of [
      [0, 0],
      [1, -1],
      [6, -2],
      [7, 0],
    ] as const)
      await expectSame(
        (k) => k.filmGrain(OUT, IN, N, 301.5, -77, walked, reach, taps, 0.2, 0.5, 0.7, 9, way, back, back, SMALL, LINE),
        4 * N,
        (f) => f.set(weights(), SMALL / 4),
      );
  });
  it('histogram', () => expectSameBytes((k) => k.histogram(OUT, IN, N, 0.3, 0.5, 0.2), 1024));

  it('warp', () => expectSame((k) => k.warp(OUT, IN, 23, 31, N, -3, 2, 1, 0.83, 0.31, 0.004), 4 * N));
});

describe('dither', () => {
  it('never moves a whole level', async () => {
    const [{ k, f, u }] = await both();
    k.sow(NOISE);
    for (let v = 0; v < 256; v++) {
      f.fill(v / 255, OUT / 4, OUT / 4 + 3 * 64);
      k.storeRgbRows8(IN, OUT, 64, 3 * v, v, NOISE);
      expect(u.subarray(IN, IN + 192).every((each) => each === v)).toBe(true);
    }
  });

  it('keeps the mean of what lies between two levels', async () => {
    const [{ k, f, u }] = await both();
    k.sow(NOISE);
    for (const rest of [0.1, 0.25, 0.5, 0.9]) {
      let sum = 0;
      f.fill((100 + rest) / 255, OUT / 4, OUT / 4 + 3 * 64);
      for (let y = 0; y < 200; y++) {
        k.storeRgbRows8(IN, OUT, 64, 0, y, NOISE);
        for (let i = 0; i < 64; i++) sum += u[IN + 3 * i] as number;
      }
      expect(sum / 12800 - 100).toBeCloseTo(rest, 1);
    }
  });
});
