import { fill } from '../../test/engine';
import { extremes, group, layer, newEngine, scene, sequence, stackOf } from '../../test/kernels';
import { modeIds } from '../blend';
import { kinds } from '../kinds';
import { openGate, type Gate } from '../masks/gate';
import type { Layout } from '../pixels/picture';
import type { Engine, Order } from './engine';
import type { Layer, Stack } from './schema';

const MOST_LAYERS = 12;

/** Photos, stacks and changes of them by a repeatable sequence. */
class Chance {
  private readonly next: () => number;

  constructor(seed: number) {
    this.next = sequence(seed);
    for (let i = 0; i < 5; i++) this.next();
  }

  is(share: number): boolean {
    return this.next() < share;
  }
  from(low: number, high: number): number {
    return low + (high - low) * this.next();
  }
  below(n: number): number {
    return Math.floor(this.from(0, n));
  }
  of<T>(all: readonly T[]): T {
    return all[this.below(all.length)] as T;
  }

  photo(): { layout: Layout; values: (i: number) => number } {
    const [width, height] = [40 + this.below(200), 30 + this.below(120)];
    const channels = this.is(0.75) ? 3 : 4;
    const all = scene(width, height, 4);
    const values = (i: number): number => all[channels === 4 ? i : 4 * Math.floor(i / 3) + (i % 3)] as number;
    return { layout: { width, height, depth: this.of([8, 16] as const), channels }, values };
  }

  private gate(): Gate {
    if (this.is(0.75)) return openGate;
    const nodes = [0, 0.5, 1].map((x): [number, number] => [x, this.from(0, 1)]);
    return { ...openGate, [this.of(['own', 'beneath'])]: { shape: this.of(['straight', 'smooth']), nodes } };
  }

  layer(): Layer {
    const { id } = this.is(0.25) ? { id: 'blur' as const } : this.of(kinds);
    const params = id === 'blur' ? { radius: this.of([0.002, 0.01, 0.04, 0.1]) * this.from(0.7, 1.3) } : this.of(extremes(id));
    const [strength, reads] = [this.is(0.3) ? 1 : this.from(0, 1), this.is(0.15) ? 'photo' : 'below'] as const;
    return layer(id, params, { strength, reads, blend: this.of(modeIds), gate: this.gate(), on: this.is(0.9) });
  }

  stack(): Stack {
    return stackOf(...Array.from({ length: 1 + this.below(7) }, () => this.layer()));
  }

  changed(stack: Stack): Stack {
    const layers = [...stack.layers];
    const at = this.below(layers.length);
    const it = layers[at] as Layer;
    const pair = layers.slice(at, at + 2).filter(({ kind }) => kind !== 'group');
    const change = this.of(['strength', 'strength', 'switch', 'blend', 'other', 'more', 'less', 'order', 'group', 'master'] as const);
    if (change === 'strength') layers[at] = { ...it, strength: this.from(0, 1) };
    if (change === 'switch') layers[at] = { ...it, on: !it.on };
    if (change === 'blend') layers[at] = { ...it, blend: this.of(modeIds) };
    if (change === 'other') layers[at] = this.layer();
    if (change === 'more' && layers.length < MOST_LAYERS) layers.splice(at, 0, this.layer());
    if (change === 'less' && layers.length > 1) layers.splice(at, 1);
    if (change === 'order') layers.push(...layers.splice(at, 1));
    if (change === 'group' && pair.length > 0) layers.splice(at, pair.length, group(pair, { strength: this.from(0, 1) }));
    return { ...stack, layers, ...(change === 'master' && { master: this.from(0, 1.5) }) };
  }

  order(stack: Stack, { width, height }: Layout): Order {
    const [x, y] = [this.below(width / 2), this.below(height / 2)];
    const [first] = stack.layers;
    return {
      stack,
      format: this.of(['float', 'rgb16', 'rgb8', 'screen'] as const),
      ...(this.is(0.2) && first && { watch: first.id }),
      ...(this.is(0.2) && { area: { x, y, w: 1 + this.below(width - x), h: 1 + this.below(height - y) } }),
    };
  }
}

function seen(engine: Engine, order: Order): { values: Float32Array; tones: unknown } {
  const rendered = engine.render(order);
  if (!rendered) throw new Error('stopped');
  const bytes = rendered.pixels.slice();
  const whole = order.format === 'rgb16' ? new Uint16Array(bytes.buffer) : bytes;
  return { values: order.format === 'float' ? new Float32Array(bytes.buffer) : Float32Array.from(whole), tones: rendered.tones };
}

/** By how much two pictures differ at most; NaN if a value is no number or there is none for it. */
const apart = (a: Float32Array, b: Float32Array): number =>
  a.reduce((most, v, i) => Math.max(most, Math.abs(v - (b[i] ?? NaN))), a.length === b.length ? 0 : NaN);

describe('stacks at random, changed at random', () => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])(
    'look as a new engine makes them, from seed %d',
    async (seed) => {
      const chance = new Chance(seed);
      const { layout, values } = chance.photo();
      const engine = await newEngine();
      fill(engine, layout, values);
      let stack = chance.stack();
      for (let i = 0; i < 9; i++) {
        const order = chance.order(stack, layout);
        const fresh = await newEngine();
        fill(fresh, layout, values);
        const spend = order.format !== 'float' && !order.area && chance.is(0.3);
        const [held, made] = [seen(engine, order), seen(fresh, { ...order, spend })];
        expect(apart(held.values, made.values)).toBeLessThanOrEqual(order.format === 'float' ? 1e-6 : 1);
        expect(held.tones).toEqual(made.tones);
        stack = chance.changed(stack);
      }
    },
    60000,
  );
});
