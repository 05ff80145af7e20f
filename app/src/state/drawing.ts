import { z } from 'zod';
import { create } from 'zustand';
import type { Drawing, ToWorker } from '@bexlen/core/engine';
import { keepHabit, readHabit } from './habits';

const KEY = 'bexlen-graphics';
const habit = z.object({
  /** Whether the graphics processor may draw; `forced` where it is no more than software, too. */
  use: z.enum(['on', 'off', 'forced']),
  /** The one that has proved itself, by what it is called, with this engine and this browser. */
  proven: z.object({ name: z.string(), engine: z.string(), browser: z.string() }).optional(),
});
type Habit = z.infer<typeof habit>;

interface State {
  /** What draws; nothing until the engine has begun. */
  readonly drawing: Drawing | undefined;
  readonly use: Habit['use'];
}

/** Which machine draws the pictures of this page. */
export const useDrawing = create<State>(() => ({ drawing: undefined, use: readHabit<Habit>(KEY, habit, { use: 'on' }).use }));

type Wish = Extract<ToWorker, { type: 'graphics' }>;
/** What this engine is called: another one has to be proved anew. */
let engineHere = '';
const here = (): { engine: string; browser: string } => ({ engine: engineHere, browser: navigator.userAgent });
let tell: (wish: Wish) => void = () => undefined;

/** Asks the engine to draw as this browser is set to; one that was left is tried once more. */
export function askToDraw(): void {
  const { use, proven } = readHabit<Habit>(KEY, habit, { use: 'on' });
  const { engine, browser } = here();
  const same = proven && proven.engine === engine && proven.browser === browser;
  tell({ type: 'graphics', use, proven: same ? proven.name : undefined });
}

/** Asks an engine that has begun to draw as this browser is set to. @param send to the engine. */
export function beginDrawing(engine: string, send: (wish: Wish) => void): void {
  engineHere = engine;
  tell = send;
  askToDraw();
}

/** What the engine says of the machine that draws. */
export function drawnBy(drawing: Drawing): void {
  useDrawing.setState({ drawing });
  if (drawing.machine === 'gpu') keepHabit(KEY, { use: useDrawing.getState().use, proven: { name: drawing.name, ...here() } } satisfies Habit);
}

/** Has the graphics processor draw, or not, from the next picture on. */
export function letGraphicsDraw(on: boolean): void {
  const use = on ? 'on' : 'off';
  useDrawing.setState({ use });
  keepHabit(KEY, { use } satisfies Habit);
  askToDraw();
}
