import type { PhotoDrag } from '../onPhoto/drag';
import { fit, type Look } from '../state/look';
import { followGestures } from './gestures';

/** An element of 400 by 300 pixels at the corner of the page, as far as gestures look at it. */
class Area extends EventTarget {
  getBoundingClientRect = () => ({ left: 0, top: 0, width: 400, height: 300 });
  setPointerCapture = (): void => undefined;
}

let area: Area;
let look: Look;
let calls: string[];
let drag: PhotoDrag | undefined;
let stop: () => void;
let time: number;

beforeEach(() => {
  jest.useFakeTimers();
  [area, look, calls, drag, time] = [new Area(), fit, [], undefined, 1000];
  stop = followGestures(area as unknown as HTMLElement, {
    look: () => look,
    change: (next) => {
      look = next;
      calls.push('change');
    },
    hold: (at) => calls.push(at ? `hold ${at.x} ${at.y}` : 'let go'),
    toggle: (x, y) => calls.push(`toggle ${x} ${y}`),
    drag: () => drag,
  });
});
afterEach(() => {
  stop();
  jest.useRealTimers();
});

/** Something that a pointer does. A finger is known by its id. */
function point(type: string, x: number, y: number, more: Partial<PointerEvent> = {}): void {
  const event = new Event(`pointer${type}`);
  const fields = { clientX: x, clientY: y, pointerId: 1, pointerType: 'touch', button: 0, timeStamp: time, ...more };
  for (const [name, value] of Object.entries(fields)) Object.defineProperty(event, name, { value });
  area.dispatchEvent(event);
}
const tap = (x: number, y: number): void => (point('down', x, y), point('up', x, y));

describe('gestures on the photo', () => {
  it('shows the original where a finger rests, until it is let go, and takes that for no tap', () => {
    point('down', 100, 80);
    jest.advanceTimersByTime(200);
    time += 200;
    point('up', 100, 80);
    time += 50;
    tap(100, 80);
    expect(calls).toEqual(['hold 100 80', 'let go']);
  });

  it('tells of a tap, though a busy page hears of its end late, and of a second one that takes it back', () => {
    const places: (string | undefined)[] = [];
    const tapped = (at: { x: number; y: number } | undefined): void => void places.push(at && `${at.x} ${at.y}`);
    drag = { down: () => true, move: () => undefined, up: () => undefined, cancel: () => undefined, tap: tapped };
    point('down', 100, 80);
    jest.advanceTimersByTime(400);
    time += 90;
    point('up', 100, 80);
    time += 100;
    tap(100, 80);
    expect(places).toEqual(['100 80', undefined]);
    expect(calls.slice(-1)).toEqual(['toggle 100 80']);
  });

  it('takes a finger for one that moved in time, though a busy page hears of it late', () => {
    look = { scale: 2, x: 0, y: 0 };
    point('down', 100, 80);
    jest.advanceTimersByTime(400);
    time += 60;
    point('move', 140, 90);
    expect(calls).toEqual(['hold 100 80', 'let go', 'change']);
    point('up', 140, 90);
    point('down', 100, 80);
    jest.advanceTimersByTime(400);
    time += 400;
    point('move', 140, 90);
    expect(calls.slice(3)).toEqual(['hold 100 80']);
  });

  it('takes two taps that follow each other for a double tap, and two that do not for nothing', () => {
    tap(50, 60);
    time += 200;
    tap(52, 60);
    expect(calls).toEqual(['toggle 52 60']);
    time += 2000;
    tap(52, 60);
    expect(calls).toHaveLength(1);
  });

  it('pans close up only, by what the finger moved', () => {
    point('down', 100, 100);
    point('move', 140, 90);
    expect(calls).toEqual([]);
    point('up', 140, 90);
    look = { scale: 2, x: 0, y: 0 };
    point('down', 100, 100);
    point('move', 140, 90);
    expect(look).toEqual({ scale: 2, x: 40, y: -10 });
  });

  it('pinches about the middle of two fingers: what lies there stays there', () => {
    point('down', 150, 150, { pointerId: 1 });
    point('down', 250, 150, { pointerId: 2 });
    point('move', 100, 150, { pointerId: 1 });
    point('move', 300, 150, { pointerId: 2 });
    expect(look.scale).toBeCloseTo(2, 9);
    // The middle of both is that of the area again.
    expect(look.x).toBeCloseTo(0, 6);
    expect(look.y).toBeCloseTo(0, 6);
    expect(calls.every((call) => call === 'change')).toBe(true);
  });

  it('turns the wheel about the place of the pointer', () => {
    const event = Object.assign(new Event('wheel', { cancelable: true }), { deltaY: -300, clientX: 300, clientY: 150 });
    area.dispatchEvent(event);
    expect(event.defaultPrevented).toBe(true);
    const factor = Math.exp(0.66);
    expect(look).toEqual({ scale: expect.closeTo(factor, 9) as number, x: expect.closeTo(100 * (1 - factor), 9) as number, y: 0 });
  });

  it('takes back what one finger draws when a second one comes, and goes on zooming', () => {
    const did: string[] = [];
    drag = {
      atOnce: true,
      down: () => (did.push('down'), true),
      move: ({ dx, dy }) => did.push(`move ${dx} ${dy}`),
      up: (moved) => did.push(moved ? 'kept' : 'tapped'),
      cancel: () => did.push('cancelled'),
    };
    point('down', 100, 100);
    point('move', 130, 110);
    point('up', 130, 110);
    tap(10, 10);
    point('down', 100, 100);
    point('move', 130, 110);
    point('down', 200, 100, { pointerId: 2 });
    expect(did).toEqual(['down', 'move 30 10', 'kept', 'down', 'tapped', 'down', 'move 30 10', 'cancelled']);
  });

  it('does not take the palm beside a pen for a finger', () => {
    drag = { atOnce: true, down: () => (calls.push('draws'), true), move: () => undefined, up: () => undefined, cancel: () => undefined };
    point('down', 100, 100, { pointerId: 7, pointerType: 'pen' });
    time += 300;
    point('down', 300, 250, { pointerId: 8 });
    expect(calls).toEqual(['draws']);
    point('up', 100, 100, { pointerId: 7, pointerType: 'pen' });
    time += 2000;
    point('down', 300, 250, { pointerId: 9 });
    expect(calls).toEqual(['draws', 'draws']);
  });

  it('leaves the element alone once it is told to', () => {
    stop();
    tap(50, 60);
    tap(50, 60);
    jest.runAllTimers();
    expect(calls).toEqual([]);
  });
});
