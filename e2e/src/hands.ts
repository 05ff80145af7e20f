import { type CDPSession, type Locator, type Page } from '@playwright/test';
import { expect } from './expecting';

/** Hands that count what they do: taps, drags, typed fields. */
export interface Hands {
  readonly count: () => number;
  readonly tap: (target: Locator) => Promise<void>;
  /** Taps a share of the target. */
  readonly tapAt: (target: Locator, at: { x: number; y: number }) => Promise<void>;
  /** Presses in the middle of the target, or at a share of it, and draws by so many pixels. */
  readonly drag: (target: Locator, dx: number, dy: number, at?: { x: number; y: number }) => Promise<void>;
  /** Holds the target while something is looked at. */
  readonly hold: (target: Locator, meanwhile: () => Promise<void>) => Promise<void>;
}

const STEPS = 4;

/** Once it lies still, as who reaches for it waits for: over some frames of the page, however long these take. */
export async function settled(target: Locator): Promise<void> {
  await target.evaluate(
    (element) =>
      new Promise<void>((resolve) => {
        let [last, still] = ['', 0];
        const look = (): void => {
          const { x, y, width, height } = element.getBoundingClientRect();
          const now = [x, y, width, height].join(' ');
          still = now === last ? still + 1 : 0;
          last = now;
          if (still >= 3) resolve();
          else requestAnimationFrame(look);
        };
        look();
      }),
  );
}

async function pointOf(target: Locator, at: { x: number; y: number }): Promise<{ x: number; y: number }> {
  await target.scrollIntoViewIfNeeded();
  await settled(target);
  const box = await target.boundingBox();
  if (!box) throw new Error('the target is not on the page');
  return { x: box.x + box.width * at.x, y: box.y + box.height * at.y };
}

const MIDDLE = { x: 0.5, y: 0.5 };

/** A finger needs this long to come back after a drag. Sooner, the browser takes a tap for the end of a flick and makes no click of it. */
const BACK_MS = 300;
/** A drag takes so long from one step to the next, and rests at its end: who lifts a finger in motion flicks, and the browser lets what was flicked run on. */
const STEP_S = 0.02;
const REST_S = 0.12;

/** How long a tap may take to become a click, when the page is busy. */
const CLICK_MS = 4000;

/** The browser makes a click of a tap after it has answered for the touch: what is asked of the page before that would be of the time before the tap. What is returned, called when it was tapped, tells whether one came. */
async function clickToCome(page: Page): Promise<() => Promise<boolean>> {
  const click = await page.evaluateHandle(() => ({
    comes: new Promise<boolean>((resolve) => addEventListener('click', () => setTimeout(() => resolve(true), 0), { once: true, capture: true })),
  }));
  // A tap may leave the page; then there is nothing to wait for.
  return () =>
    click
      .evaluate(({ comes }, ms) => Promise.race([comes, new Promise<boolean>((resolve) => setTimeout(() => resolve(false), ms))]), CLICK_MS)
      .catch(() => true);
}

/** Fingers on a phone: real touch events through the browser's own input. */
export async function fingers(page: Page): Promise<Hands> {
  const session: CDPSession = await page.context().newCDPSession(page);
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', points: { x: number; y: number }[], timestamp?: number) =>
    session.send('Input.dispatchTouchEvent', { type, touchPoints: points, ...(timestamp !== undefined && { timestamp }) });
  let count = 0;
  return {
    count: () => count,
    tap: async (target) => {
      count++;
      const clicked = await clickToCome(page);
      await target.tap();
      if (await clicked()) return;
      // Seldom the browser makes no click of a tap; who taps a button that does nothing taps it again.
      console.warn(`a tap made no click: ${target}`);
      const again = await clickToCome(page);
      if (await target.isVisible()) await target.tap();
      await again();
    },
    tapAt: async (target, at) => {
      count++;
      const { x, y } = await pointOf(target, at);
      await page.touchscreen.tap(x, y);
    },
    drag: async (target, dx, dy, at = MIDDLE) => {
      count++;
      const from = await pointOf(target, at);
      // By times of its own: a machine that is busy must not make a hold of a press, or a flick of a drag.
      const begun = Date.now() / 1000;
      const down = touch('touchStart', [from], begun);
      // A finger does not wait for the page before it moves.
      for (let i = 1; i <= STEPS; i++) await touch('touchMove', [{ x: from.x + (dx * i) / STEPS, y: from.y + (dy * i) / STEPS }], begun + i * STEP_S);
      await down;
      await touch('touchEnd', [], begun + STEPS * STEP_S + REST_S);
      // Who draws sees where it ended before reaching for the next.
      await page.evaluate(() => new Promise(requestAnimationFrame));
      await page.waitForTimeout(BACK_MS);
    },
    hold: async (target, meanwhile) => {
      await touch('touchStart', [await pointOf(target, MIDDLE)]);
      await meanwhile();
      await touch('touchEnd', []);
    },
  };
}

/** A mouse on a wide screen. */
export function mouse(page: Page): Hands {
  let count = 0;
  return {
    count: () => count,
    tap: async (target) => {
      count++;
      await target.click();
    },
    tapAt: async (target, at) => {
      count++;
      const { x, y } = await pointOf(target, at);
      await page.mouse.click(x, y);
    },
    drag: async (target, dx, dy, at = MIDDLE) => {
      count++;
      const from = await pointOf(target, at);
      await page.mouse.move(from.x, from.y);
      await page.mouse.down();
      await page.mouse.move(from.x + dx, from.y + dy, { steps: STEPS });
      await page.mouse.up();
    },
    hold: async (target, meanwhile) => {
      const at = await pointOf(target, MIDDLE);
      await page.mouse.move(at.x, at.y);
      await page.mouse.down();
      await meanwhile();
      await page.mouse.up();
    },
  };
}

/** A pen drawn over a target through places given as shares of it, each with its pressure. */
export async function penStroke(page: Page, target: Locator, places: readonly (readonly [x: number, y: number, pressure: number])[]): Promise<void> {
  const session = await page.context().newCDPSession(page);
  await settled(target);
  const box = await target.boundingBox();
  if (!box) throw new Error('the target is not on the page');
  const send = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', [x, y, force]: readonly [number, number, number]) =>
    session.send('Input.dispatchMouseEvent', {
      type,
      x: box.x + box.width * x,
      y: box.y + box.height * y,
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
      pointerType: 'pen',
      force,
    });
  const [first] = places;
  const last = places.at(-1);
  if (!first || !last) return;
  await send('mousePressed', first);
  for (const [i, to] of places.slice(1).entries()) {
    const from = places[i] as readonly [number, number, number];
    for (let k = 1; k <= STEPS; k++) {
      const between = (c: 0 | 1 | 2): number => from[c] + ((to[c] - from[c]) * k) / STEPS;
      await send('mouseMoved', [between(0), between(1), between(2)]);
    }
  }
  await send('mouseReleased', last);
}

/** Two fingers that move apart about a point. */
export async function pinch(page: Page, target: Locator, factor: number): Promise<void> {
  const session = await page.context().newCDPSession(page);
  const { x, y } = await pointOf(target, MIDDLE);
  const points = (reach: number) => [
    { x: x - reach, y, id: 0 },
    { x: x + reach, y, id: 1 },
  ];
  await session.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: points(30) });
  for (let i = 1; i <= STEPS; i++)
    await session.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: points(30 * (1 + ((factor - 1) * i) / STEPS)) });
  await session.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
}

export const kept = (page: Page): Promise<void> => expect(page.getByRole('status').filter({ hasText: /^kept$/ })).toBeVisible();

/** Some thousand values of the picture as it is on the page. */
export const shownPixels = (page: Page): Promise<number[]> =>
  page
    .locator('canvas')
    .first()
    .evaluate((node) => {
      const canvas = node as HTMLCanvasElement;
      const { data } = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, canvas.width, canvas.height);
      const values: number[] = [];
      for (let i = 0; i < data.length; i += 3989) values.push(data[i] as number);
      return values;
    });
