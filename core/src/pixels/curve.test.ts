import fc from 'fast-check';
import { curveFunction, curveSchema, isLevel, level, tabulate, type Curve, type Node } from './curve';

const nodes = fc
  .array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), { minLength: 2, maxLength: 12 })
  .map((list) => [...list].sort(([a], [b]) => a - b).filter(([x], i, all) => i === 0 || x - (all[i - 1] as Node)[0] > 1e-3))
  .filter((list) => list.length >= 2);
const shape = fc.constantFrom('straight' as const, 'smooth' as const);

describe('a curve', () => {
  it('passes through its nodes, and holds the ends', () => {
    fc.assert(
      fc.property(nodes, shape, (list, kind) => {
        const f = curveFunction({ shape: kind, nodes: list });
        const first = list[0] as Node;
        return list.every(([x, y]) => Math.abs(f(x) - y) < 1e-9) && f(first[0] - 0.1) === first[1];
      }),
    );
  });

  it('never leaves the range of two neighbouring nodes, whether it rises, falls or turns', () => {
    fc.assert(
      fc.property(nodes, shape, fc.double({ min: 0, max: 1, noNaN: true }), (list, kind, t) => {
        const f = curveFunction({ shape: kind, nodes: list });
        return list.slice(1).every(([x1, y1], i) => {
          const [x0, y0] = list[i] as Node;
          const y = f(x0 + (x1 - x0) * t);
          return y >= Math.min(y0, y1) - 1e-9 && y <= Math.max(y0, y1) + 1e-9;
        });
      }),
    );
  });

  it('has the slopes of Fritsch and Carlson: a worked example', () => {
    // Nodes (0, 0), (0.5, 0.2), (1, 1): secants 0.4 and 1.6, middle slope 1, which both limits allow.
    const f = curveFunction({
      shape: 'smooth',
      nodes: [
        [0, 0],
        [0.5, 0.2],
        [1, 1],
      ],
    });
    expect(f(0.25)).toBeCloseTo(0.5 * 0.2 + (0.5 * (0.4 - 1)) / 8, 12);
    expect(f(0.75)).toBeCloseTo(0.5 * 1.2 + (0.5 * (1 - 1.6)) / 8, 12);
  });

  it('is refused when its nodes do not go from left to right, or leave the square', () => {
    const fails = (list: unknown): boolean => !curveSchema.safeParse({ shape: 'straight', nodes: list }).success;
    expect(
      fails([
        [0.5, 0],
        [0.5, 1],
      ]),
    ).toBe(true);
    expect(
      fails([
        [0, 0],
        [1, 1.2],
      ]),
    ).toBe(true);
    expect(fails([[0, 0]])).toBe(true);
    expect(isLevel(level)).toBe(true);
  });

  it('is read from its table within a tenth of an 8-bit level', () => {
    const curve: Curve = {
      shape: 'smooth',
      nodes: [
        [0, 0.1],
        [0.3, 0.9],
        [0.6, 0.2],
        [1, 1],
      ],
    };
    const f = curveFunction(curve);
    const table = tabulate(f);
    for (let x = 0; x <= 1; x += 0.00037) {
      const t = Math.sqrt(x) * 4095;
      const i = Math.min(4095, Math.floor(t));
      expect(Math.abs((table[2 * i] as number) + (table[2 * i + 1] as number) * (t - i) - f(x)) * 255).toBeLessThan(0.1);
    }
  });
});
