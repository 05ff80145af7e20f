import { create } from 'zustand';
import { subscribeWithSelector } from 'zustand/middleware';
import { emptyStack, find, type Layer, type Stack } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { canRedo, canUndo, recorded, type History } from './history';
import { say } from '../words';

export type KeepState = 'kept' | 'keeping' | 'waiting' | 'refused';

interface Bench {
  readonly photo: Photo | undefined;
  readonly versionId: string;
  readonly versionName: string;
  readonly history: History;
  /** What a held control shows; nothing of it is kept until the control is let go. */
  readonly draft: Stack | undefined;
  /** The opened channel. */
  readonly open: string | undefined;
  readonly solo: ReadonlySet<string>;
  readonly keep: KeepState;
  /** A message that is shown until it is dismissed. */
  readonly notice: string;
  /** The stack as it is to be seen. */
  readonly stack: () => Stack;
}

const nothing: History = { steps: [{ words: say.state.asItCame, stack: emptyStack }], cursor: 0 };

/** The open version: what is on the bench. One place for its states; components read it by selectors. */
export const useBench = create<Bench>()(
  subscribeWithSelector((_set, get) => ({
    photo: undefined,
    versionId: '',
    versionName: '',
    history: nothing,
    draft: undefined,
    open: undefined,
    solo: new Set<string>(),
    keep: 'kept',
    notice: '',
    stack: () => get().draft ?? inForce(get().history),
  })),
);

export const inForce = ({ steps, cursor }: History): Stack => steps[cursor]?.stack ?? emptyStack;

const { setState, getState } = useBench;

/** Puts a version on the bench. */
export function layOut(photo: Photo, version: { id: string; name: string }, history: History): void {
  setState({
    photo,
    versionId: version.id,
    versionName: version.name,
    history,
    draft: undefined,
    open: undefined,
    solo: new Set(),
    keep: 'kept',
    notice: '',
  });
}

/** Takes over what the server now says about the photo on the bench. */
export function refreshed(photo: Photo): void {
  if (getState().photo?.id === photo.id) setState({ photo });
}

/** Takes over a version's new name. */
export function renamed({ id, name }: { id: string; name: string }): void {
  const { photo, versionId, versionName } = getState();
  if (!photo) return;
  const versions = photo.versions.map((version) => (version.id === id ? { ...version, name } : version));
  setState({ photo: { ...photo, versions }, versionName: id === versionId ? name : versionName });
}

/** Shows a stack while a control is held. */
export const show = (stack: Stack): void => setState({ draft: stack });

/** Keeps a stack as a step, with words for the list of steps. A stack that is already in force makes no step. */
export function commit(stack: Stack, words: string): void {
  const { history } = getState();
  if (stack === inForce(history)) return setState({ draft: undefined });
  setState({ history: recorded(history, { words, stack }), draft: undefined });
}

export function undo(): void {
  const { history } = getState();
  if (canUndo(history)) goTo(history.cursor - 1);
}

export function redo(): void {
  const { history } = getState();
  if (canRedo(history)) goTo(history.cursor + 1);
}

/** Goes to any step of the list. */
export function goTo(cursor: number): void {
  const { history } = getState();
  if (cursor >= 0 && cursor < history.steps.length) setState({ history: { ...history, cursor }, draft: undefined });
}

/** A layer as it was before whatever is held was taken in hand: what is not held need not follow. */
export const useKept = <L extends Layer>(layer: L): L =>
  (useBench(({ history }) => find(inForce(history).layers, layer.id)) as L | undefined) ?? layer;

export const openChannel = (id: string | undefined): void => setState({ open: id });

export function toggleSolo(id: string): void {
  const solo = new Set(getState().solo);
  if (!solo.delete(id)) solo.add(id);
  setState({ solo });
}

export const notify = (notice: string): void => setState({ notice });
