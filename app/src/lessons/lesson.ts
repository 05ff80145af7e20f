import { create } from 'zustand';
import { buildingOf, change, find, insert, onItsWay, remove, withoutMissing, beginning, type Building, type Look, type Stack } from '@bexlen/core';
import { commit, inForce, notify, openChannel, show, useBench } from '../state/bench';
import { useHeld } from '../state/held';
import { newId } from '../state/ids';
import { edgeOf } from '../state/words';
import { say, told } from '../words';

/** How long a step's faders are on their way, and how often they are seen there. */
const WAY_MS = 1200;
const FRAME_MS = 60;

interface Lesson extends Building {
  readonly name: string;
  /** The step that is shown. */
  readonly at: number;
}

/** The look that is being built on the bench, step by step; nothing where none is. */
export const useLesson = create<{ readonly lesson: Lesson | undefined }>(() => ({ lesson: undefined }));
const { setState, getState } = useLesson;

const now = (): Stack => inForce(useBench.getState().history);
const isThere = (id: string): boolean => find(now().layers, id) !== undefined;
const still = (): boolean => globalThis.matchMedia?.('(prefers-reduced-motion: reduce)').matches ?? false;

/** What can be built: a look, or a version. */
type Built = Pick<Look, 'name' | 'stack' | 'says'>;
/** What is built once a version is on the bench. */
let next: { readonly versionId: string; readonly built: Built } | undefined;
/** Begins to build something as soon as a version is on the bench. */
export const buildOn = (versionId: string, built: Built): void => void (next = { versionId, built });

/** Begins to build a look on what is on the bench. */
export function beginLesson(look: Built): void {
  const building = buildingOf(look, newId, edgeOf(useBench.getState().photo));
  if (building.steps.length === 0) return;
  // What is said of a layer where nobody has said why is ours.
  const steps = building.steps.map((step, i) => (look.says?.[i] === undefined ? { ...step, says: told(step.says) } : step));
  setState({ lesson: { ...building, steps, name: look.name, at: 0 } });
  play();
}

/** Takes the step as it stands now, with whatever was changed in it, and goes on. */
export function takeStep(): void {
  arrive?.();
  go(1);
}

/** Leaves the step out and goes on. */
export function leaveOut(): void {
  const { lesson } = getState();
  const step = lesson?.steps[lesson.at];
  arrive?.();
  if (step && isThere(step.id)) commit(remove(now(), step.id), say.lessons.nameLeftOut(step.name));
  go(1);
}

/** Goes back to the step before; one that was left out is shown again. */
export function stepBack(): void {
  arrive?.();
  go(-1);
}

/** Ends the lesson; what is there stays. */
export function endLesson(): void {
  arrive?.();
  setState({ lesson: undefined });
}

function go(by: 1 | -1): void {
  const { lesson } = getState();
  if (!lesson) return;
  const at = Math.max(0, lesson.at + by);
  if (at >= lesson.steps.length) {
    endLesson();
    openChannel(undefined);
    return notify(say.lessons.nameIsBuiltUndoTakesIts(lesson.name));
  }
  setState({ lesson: { ...lesson, at } });
  play();
}

let moving: ReturnType<typeof setInterval> | undefined;
/** Lets a step that is on its way arrive at once. */
let arrive: (() => void) | undefined;

/** Opens the step's channel; the first time its layer comes in, and its faders move to where they are to stand. */
function play(): void {
  const { lesson } = getState();
  const step = lesson?.steps[lesson.at];
  if (!lesson || !step) return;
  if (isThere(step.id)) return openChannel(step.id);
  const there = new Set(lesson.steps.filter(({ id }) => isThere(id)).map(({ id }) => id));
  const layer = withoutMissing(lesson.layers, step.id, there, now());
  if (!layer) return;
  commit(insert(now(), beginning(layer), 'end'), say.lessons.nameAdded(step.name));
  openChannel(step.id);
  const { history } = useBench.getState();
  const at = (share: number): Stack => change(now(), step.id, () => onItsWay(layer, share));
  const over = (keep: boolean): void => {
    clearInterval(moving);
    arrive = undefined;
    // A hand that came first has the last word.
    if (keep && useBench.getState().history === history) commit(at(1), say.lessons.nameAsNameHasIt(step.name, lesson.name));
  };
  if (still()) return over(true);
  const begun = performance.now();
  arrive = () => over(true);
  moving = setInterval(() => {
    if (useBench.getState().history !== history || useHeld.getState().id !== undefined) return over(false);
    const share = (performance.now() - begun) / WAY_MS;
    if (share >= 1) over(true);
    else show(at(share * share * (3 - 2 * share)));
  }, FRAME_MS);
}

// What is built belongs to the version on which it was begun.
useBench.subscribe(
  ({ versionId }) => versionId,
  (versionId) => {
    clearInterval(moving);
    arrive = undefined;
    setState({ lesson: undefined });
    const { built } = next?.versionId === versionId ? next : {};
    if (!built) return;
    next = undefined;
    // Once all else that follows from another version has happened.
    setTimeout(() => useBench.getState().versionId === versionId && beginLesson(built), 0);
  },
);
