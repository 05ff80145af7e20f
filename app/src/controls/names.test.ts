import { followNames, HOLD_MS, HOVER_MS, type Named } from './names';

/** A page, as far as names look at it. */
class Page extends EventTarget {}
interface Shape {
  readonly label?: string;
  readonly text?: string;
  readonly key?: string;
  /** It has a short word under its picture. */
  readonly worded?: boolean;
}
const control = ({ label, text = '', key, worded = false }: Shape) => {
  const element = {
    textContent: text,
    getAttribute: (name: string) => ({ 'aria-label': label, 'aria-keyshortcuts': key })[name] ?? null,
    hasAttribute: () => worded,
    getBoundingClientRect: () => ({ left: 10, top: 20, width: 44, height: 44 }),
    matches: () => true,
    closest: (): unknown => element,
  };
  return element;
};
const loupe = control({ label: 'Loupe', key: 'M' });

let page: Page;
let seen: (string | undefined)[];
let stop: () => void;
let time: number;
beforeEach(() => {
  jest.useFakeTimers();
  [page, seen, time] = [new Page(), [], 1000];
  stop = followNames(page, (named: Named | undefined) => seen.push(named && [named.name, named.key].filter(Boolean).join(' ')));
});
afterEach(() => {
  stop();
  jest.useRealTimers();
});

function happen(type: string, target: unknown, more: object = {}): Event {
  const event = new Event(type, { cancelable: true });
  for (const [name, value] of Object.entries({ target, pointerType: 'mouse', clientX: 30, clientY: 30, timeStamp: time, ...more }))
    Object.defineProperty(event, name, { value });
  page.dispatchEvent(event);
  return event;
}
const touch = { pointerType: 'touch' };

it('shows the name and the key of an icon while a mouse rests on it, within 300 ms', () => {
  expect(HOVER_MS).toBeLessThanOrEqual(300);
  happen('pointerover', loupe);
  expect(seen).toEqual([]);
  jest.advanceTimersByTime(HOVER_MS);
  expect(seen).toEqual(['Loupe M']);
  // Over its drawing it is still the same.
  happen('pointerover', { closest: () => loupe });
  jest.advanceTimersByTime(HOVER_MS);
  happen('pointerover', control({ label: 'Zones' }));
  jest.advanceTimersByTime(HOVER_MS);
  expect(seen).toEqual(['Loupe M', undefined, 'Zones']);
});

it('shows nothing for what has words of its own, or is no control, or goes by', () => {
  for (const other of [control({ label: 'Stop 3 files', text: 'Stop' }), control({ text: '' }), { closest: () => null }]) {
    happen('pointerover', other);
    jest.advanceTimersByTime(1000);
  }
  happen('pointerover', loupe);
  jest.advanceTimersByTime(HOVER_MS / 2);
  happen('pointerover', { closest: () => null });
  jest.advanceTimersByTime(1000);
  expect(seen).toEqual([]);
});

it('names what was brought into sight under the mouse, and takes the name away when it moves on', () => {
  happen('pointerover', loupe);
  happen('scroll', page);
  jest.advanceTimersByTime(HOVER_MS);
  happen('scroll', page);
  expect(seen).toEqual(['Loupe M', undefined]);
});

it('shows what the keyboard comes to, until a key is pressed', () => {
  happen('focusin', loupe);
  jest.advanceTimersByTime(HOVER_MS);
  happen('keydown', loupe);
  expect(seen).toEqual(['Loupe M', undefined]);
});

it('tells a finger that holds it what it is, and does not press it then', () => {
  happen('pointerdown', loupe, touch);
  jest.advanceTimersByTime(HOLD_MS);
  time += HOLD_MS + 50;
  happen('pointerup', loupe, touch);
  expect(seen).toEqual(['Loupe', undefined]);
  expect(happen('click', loupe).defaultPrevented).toBe(true);
  // The next one counts.
  happen('pointerdown', loupe, touch);
  time += 80;
  happen('pointerup', loupe, touch);
  expect(happen('click', loupe).defaultPrevented).toBe(false);
});

it('takes a tap for a tap, though a busy page hears of its end late', () => {
  happen('pointerdown', loupe, touch);
  jest.advanceTimersByTime(3 * HOLD_MS);
  time += 90;
  happen('pointerup', loupe, touch);
  expect(happen('click', loupe).defaultPrevented).toBe(false);
});

it('does not ask for what a finger draws', () => {
  happen('pointerdown', loupe, touch);
  happen('pointermove', loupe, { ...touch, clientX: 60 });
  jest.advanceTimersByTime(HOLD_MS);
  expect(seen).toEqual([]);
});

it('names what has a short word under its picture too', () => {
  happen('pointerover', control({ label: 'Mark clipped ends', text: 'Clipped', worded: true }));
  jest.advanceTimersByTime(HOVER_MS);
  expect(seen).toEqual(['Mark clipped ends']);
});

it('says what something does after its first touch, until the next or for a while', () => {
  stop();
  const words = ['Drag it.', undefined, 'It opens.'];
  stop = followNames(
    page,
    (named) => seen.push(named?.name),
    () => words.shift(),
  );
  const tap = (): void => {
    happen('pointerdown', loupe, touch);
    time += 80;
    happen('pointerup', loupe, touch);
    // What it opened scrolls into sight.
    happen('scroll', page);
  };
  tap();
  expect(seen).toEqual(['Drag it.']);
  tap();
  expect(seen).toEqual(['Drag it.', undefined]);
  tap();
  jest.advanceTimersByTime(20_000);
  expect(seen).toEqual(['Drag it.', undefined, 'It opens.', undefined]);
});
