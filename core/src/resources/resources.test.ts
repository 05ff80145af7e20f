import { layer, newEngine, scene, stackOf } from '../../test/kernels';
import { fill } from '../../test/engine';
import { filmPlaceOf } from '../geometry/shape';
import { compile } from '../stack/compile';
import { ValueNumbers } from '../stack/program';
import { liveName, nameOf, Resources, traceOf, type Painted } from '.';

const whole = traceOf(Array.from({ length: 4000 }, (_, i) => ({ x: i / 4000, y: 0.1, pressure: 1, ms: 8 * i })));
const strokeOf = (points: number, after = ''): Painted => ({
  after,
  stroke: {
    size: 0.05,
    softness: 0.5,
    flow: 1,
    erase: false,
    pressure: 'none',
    trace: whole.slice(0, (whole.length / 4000) * points),
  },
});

describe('resources', () => {
  it('hold one stroke more after a minute of painting at 60 frames a second', () => {
    const { strokes } = new Resources();
    const kept = strokeOf(10);
    strokes.set(nameOf(kept), kept);
    for (let frame = 1; frame <= 3600; frame++) {
      strokes.set(liveName(frame), strokeOf(Math.min(frame, 4000), nameOf(kept)));
      expect(strokes.chainTo(liveName(frame)).missing).toBeUndefined();
      expect(strokes.size).toBeLessThanOrEqual(3);
    }
    const last = strokeOf(3600, nameOf(kept));
    strokes.set(nameOf(last), last);
    expect(strokes.chainTo(nameOf(last)).names).toEqual([nameOf(kept), nameOf(last)]);
  });
  it('are let go of, but for strokes that are still needed', () => {
    const resources = new Resources();
    const [first, second] = [strokeOf(3), strokeOf(4)];
    for (const each of [first, second]) resources.strokes.set(nameOf(each), each);
    resources.pictures.set('p', { layout: { width: 1, height: 1, depth: 8, channels: 3 }, bytes: new Uint8Array(3) });
    resources.setCube('c', { title: '', dimensions: 1, size: 2, least: [0, 0, 0], most: [1, 1, 1], values: new Float32Array(6) });
    resources.forget((name) => name === nameOf(second));
    expect(resources.strokes.get(nameOf(first))).toBeUndefined();
    expect(resources.strokes.get(nameOf(second))).toEqual(second);
    expect(resources.pictures.keyOf('p')).toBeUndefined();
    expect(() => resources.cube('c')).toThrow('is not at hand');
  });
});

describe('a fader that is dragged 10,000 times', () => {
  const layout = { width: 24, height: 16, depth: 8, channels: 3 } as const;
  const stackAt = (i: number) => stackOf(layer('exposure'), layer('glow', { radius: 0.01 + i * 1e-6 }), layer('tone', { brightness: i * 1e-5 }));

  it('is remembered only for a while', () => {
    const numbers = new ValueNumbers();
    const sizes = Array.from({ length: 6_000 }, (_, i) => {
      compile(stackAt(i), filmPlaceOf(layout), numbers);
      return numbers.size;
    });
    const most = (from: number, to: number): number => Math.max(...sizes.slice(from, to));
    expect(most(3_000, 6_000)).toBeLessThanOrEqual(most(0, 3_000));
    expect(most(0, 6_000)).toBeLessThan(4_000);
  });
  it('names what did not change as before', () => {
    const numbers = new ValueNumbers();
    const first = (i: number) => compile(stackAt(i), filmPlaceOf(layout), numbers).steps[0]?.to;
    const before = first(0);
    for (let i = 1; i < 500; i++) expect(first(i)).toBe(before);
  });
  it('takes no more memory of the engine after a while', async () => {
    const engine = await newEngine();
    const values = scene(layout.width, layout.height, 3);
    fill(engine, layout, (i) => values[i] as number);
    const bytes = (): number => engine.render({ stack: stackAt(0), format: 'rgb8' })?.pixels.buffer.byteLength ?? 0;
    for (let i = 0; i < 200; i++) engine.render({ stack: stackAt(i), format: 'rgb8' });
    const early = bytes();
    for (let i = 200; i < 600; i++) engine.render({ stack: stackAt(i), format: 'rgb8' });
    expect(bytes()).toBe(early);
  });
});
