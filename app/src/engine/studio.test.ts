import { emptyStack, newLayer, type Stack } from '@bexlen/core';
import type { FromWorker, ToWorker } from '@bexlen/core/engine';
import { Studio } from './studio';

type Render = Extract<ToWorker, { type: 'render' }>;

/** A worker at the other end of which stands the test. */
class Hand {
  static made: Hand[] = [];
  readonly orders: Render[] = [];
  onmessage: ((event: { data: FromWorker }) => void) | null = null;
  onerror: unknown = null;
  constructor() {
    Hand.made.push(this);
  }
  postMessage(message: ToWorker): void {
    if (message.type === 'begin') this.say({ type: 'ready' });
    if (message.type === 'render') this.orders.push(message);
  }
  terminate(): void {}
  say(message: FromWorker): void {
    this.onmessage?.({ data: message });
  }
  /** Finishes the last order, after some time as it says. */
  finish(ms = 5): void {
    const { id, onlySeen } = this.orders.at(-1) as Render;
    const pixels = new Uint8Array(onlySeen ? 0 : 4);
    this.say({ type: 'rendered', by: 'gpu', id, width: 1, height: 1, pixels, ms, ...(onlySeen && { image: {} as ImageBitmap }) });
  }
}

const exposed = (stops: number): Stack => {
  const plain = newLayer('exposure', 'e');
  return { ...emptyStack, layers: [{ ...plain, params: { ...plain.params, stops } }] };
};
const stops = ({ stack: { layers } }: Render): unknown => layers[0] && 'params' in layers[0] && layers[0].params['stops'];
/** What was ordered, in short. */
const ordered = (): string[] => lead().orders.map((order) => `${order.slot} ${String(stops(order))}`);
const lead = (): Hand => Hand.made[0] as Hand;

let studio: Studio;
const faults: string[] = [];
const shown: string[] = [];
const show = (name: string) => (): void => void shown.push(name);

beforeEach(async () => {
  Hand.made = [];
  Object.defineProperty(globalThis, 'navigator', { value: { userAgent: 'a browser' }, configurable: true });
  faults.length = 0;
  shown.length = 0;
  Object.assign(globalThis, {
    Worker: Hand,
    ImageData: class {
      readonly data: Uint8ClampedArray;
      constructor(
        of: Uint8ClampedArray | number,
        readonly width: number,
        readonly height = 1,
      ) {
        this.data = typeof of === 'number' ? new Uint8ClampedArray(4 * of * width) : of;
      }
    },
    fetch: () => Promise.resolve({ ok: true, arrayBuffer: () => Promise.resolve(new ArrayBuffer(8)) }),
  });
  studio = new Studio(
    1,
    (message) => faults.push(message),
    () => undefined,
  );
  await studio.begin();
});

describe('of the pictures that are asked for', () => {
  it('one is made at a time, and then the newest', () => {
    for (const at of [1, 2, 3]) studio.render({ stack: exposed(at), done: show(String(at)) });
    expect(ordered()).toEqual(['photo 1']);
    lead().finish();
    expect(ordered()).toEqual(['photo 1', 'photo 3']);
    lead().finish();
    expect(ordered()).toHaveLength(2);
    expect(shown).toEqual(['1', '3']);
  });

  it('while a control is moved, frames may come unread, but for every other one of slow ones, and the one at rest', () => {
    let now = 1000;
    const clock = jest.spyOn(performance, 'now').mockImplementation(() => now);
    studio.render({ stack: exposed(-1), done: show('at rest before') });
    lead().finish();
    const unread = (step: number): boolean[] => {
      const begun = lead().orders.length;
      // As in a drag: the next frame is wished for before this one is there.
      for (let at = 0; at < 6; at++, now += step) {
        studio.render({ stack: exposed(at), moving: at > 0 && at < 5, passing: true, done: show(String(at)) });
        if (at > 0) lead().finish();
      }
      lead().finish();
      return lead()
        .orders.slice(begun)
        .map(({ onlySeen = false }) => onlySeen);
    };
    expect(unread(200)).toEqual([false, true, false, true, false, false]);
    expect(unread(50)).toEqual([false, true, true, false, true, false]);
    clock.mockRestore();
  });

  it('small ones wait for large ones, and are left out when nobody wants them', () => {
    studio.render({ stack: exposed(1), done: show('1') });
    const leave = studio.renderSmall([{ stack: exposed(10) }, { stack: exposed(11) }], (i) => shown.push(`small ${i}`));
    studio.render({ stack: exposed(2), done: show('2') });
    lead().finish();
    lead().finish();
    lead().finish();
    leave();
    lead().finish();
    expect(ordered()).toEqual(['photo 1', 'photo 2', 'small 10', 'small 11']);
    expect(shown).toEqual(['1', '2', 'small 0', 'small 1']);
    studio.render({ stack: exposed(3), done: show('3') });
    const none = studio.renderSmall([{ stack: exposed(12) }], () => shown.push('unwanted'));
    none();
    lead().finish();
    expect(ordered().at(-1)).toBe('photo 3');
  });

  it('what is painted goes first, over all places that were painted meanwhile', () => {
    studio.render({ stack: exposed(1), done: show('1') });
    studio.render({ stack: exposed(2), done: show('2') });
    studio.paint({ stack: exposed(3), area: { x: 10, y: 10, w: 5, h: 5 }, done: show('first stroke') });
    studio.paint({ stack: exposed(4), area: { x: 20, y: 5, w: 10, h: 4 }, done: show('second stroke') });
    lead().finish();
    expect(lead().orders.at(-1)).toMatchObject({ slot: 'photo', area: { x: 10, y: 5, w: 20, h: 10 } });
    lead().finish();
    lead().finish();
    expect(ordered()).toEqual(['photo 1', 'photo 4', 'photo 2']);
    expect(shown).toEqual(['1', 'second stroke', '2']);
  });

  it('a mask is made small where it is only measured', () => {
    studio.renderMask({ stack: exposed(1), mask: 'e', looked: false, done: show('mask') });
    expect(lead().orders.at(-1)).toMatchObject({ slot: 'small', mask: 'e' });
  });

  it('one that fails is told, and the next is made', () => {
    studio.render({ stack: exposed(1), done: show('1') });
    studio.render({ stack: exposed(2), done: show('2') });
    lead().say({ type: 'failed', id: (lead().orders[0] as Render).id, message: 'The memory is full.' } as FromWorker);
    expect(faults).toEqual(['The memory is full.']);
    expect(ordered()).toEqual(['photo 1', 'photo 2']);
    lead().finish();
    expect(shown).toEqual(['2']);
  });

  it('one that cannot be shown is told and noted, and the next is made', () => {
    const noted = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const fault = new Error('there is no canvas');
    studio.render({
      stack: exposed(1),
      done: () => {
        throw fault;
      },
    });
    studio.render({ stack: exposed(2), done: show('2') });
    lead().finish();
    expect(faults).toEqual([expect.stringContaining('there is no canvas')]);
    expect(noted).toHaveBeenCalledWith(fault);
    lead().finish();
    expect(shown).toEqual(['2']);
    noted.mockRestore();
  });
});
