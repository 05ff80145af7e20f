import { Chance } from '../../test/chance';
import { fill } from '../../test/engine';
import { newEngine } from '../../test/kernels';
import type { Engine, Order } from './engine';

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
