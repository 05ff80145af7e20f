import { useEffect } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { create } from 'zustand';
import { openChannel, redo, undo } from '../state/bench';
import { nextHeight } from '../state/layout';
import { colour, radius, space, type } from '../theme/tokens';
import { fit } from '../state/look';
import { keyOf, labelOf, useBindings } from './bindings';
import { compare, nextSurround, useView, flip } from '../state/view';
import { say } from '../words';

interface Key {
  /** By which it is given another key. */
  readonly id: string;
  /** The key that it comes with. */
  readonly key: string;
  readonly words: string;
  readonly down: () => void;
  /** What ends when the key is let go. */
  readonly up?: () => void;
}

interface Shown {
  /** The list of keys. */
  readonly list: boolean;
  /** Nothing but the photo. */
  readonly bare: boolean;
}
export const useShown = create<Shown>(() => ({ list: false, bare: false }));

/** The bench's keys, one entry each: what is listed is what is heard. */
export const keys: readonly Key[] = [
  { id: 'original', key: 'o', words: say.bench.theOriginalWhileHeld, down: () => compare(true), up: () => compare(false) },
  {
    id: 'bare',
    key: 'b',
    words: say.bench.nothingButThePhotoWhileHeld,
    down: () => useShown.setState({ bare: true }),
    up: () => useShown.setState({ bare: false }),
  },
  { id: 'fit', key: '0', words: say.bench.fitThePhoto, down: () => useView.setState({ look: fit }) },
  { id: 'split', key: 'l', words: say.bench.splitLine, down: () => flip('split') },
  { id: 'loupe', key: 'm', words: say.bench.loupe, down: () => flip('loupe') },
  { id: 'histogram', key: 't', words: say.bench.histogram, down: () => flip('histogram') },
  { id: 'marks', key: 'c', words: say.bench.marksOnClippedEnds, down: () => flip('marks') },
  { id: 'zones', key: 'i', words: say.bench.zones, down: () => flip('zones') },
  { id: 'surround', key: 'g', words: say.bench.nextGreyOfTheSurround, down: nextSurround },
  { id: 'desk', key: 'd', words: say.bench.nextHeightOfTheDesk, down: nextHeight },
  { id: 'back', key: 'Escape', words: say.bench.backToTheDesk, down: () => openChannel(undefined) },
  {
    id: 'list',
    key: '?',
    words: say.bench.thisListWhileHeld,
    down: () => useShown.setState({ list: true }),
    up: () => useShown.setState({ list: false }),
  },
];

/** The keys of what the bench can do, by its id, as they are written on keyboards. */
export function useShortcuts(): (id: string) => string {
  const bindings = useBindings((state) => state.bindings);
  return (id) => labelOf(keyOf(keys.find((each) => each.id === id) ?? { id, key: '' }, bindings));
}

export const FIXED = [
  ['Ctrl Z', say.bench.undo],
  ['Ctrl Shift Z', say.bench.redo],
  [say.bench.tabArrows, say.bench.toAControl],
  ['Backspace', say.bench.aControlBackToItsDefault],
] as const;

const typing = (event: KeyboardEvent): boolean => (event.target as HTMLElement | null)?.tagName === 'INPUT';
/** Keys that the focused control has a use for itself. */
const taken = (event: KeyboardEvent): boolean => event.defaultPrevented;

/** Hears the bench's keys while it is on the page. */
export function useKeys(): void {
  useEffect(() => {
    let held: Key | undefined;
    const release = (): void => {
      held?.up?.();
      held = undefined;
    };
    const down = (event: KeyboardEvent): void => {
      if (typing(event) || taken(event)) return;
      if (event.ctrlKey || event.metaKey) {
        if (event.key.toLowerCase() !== 'z') return;
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
        return;
      }
      if (event.repeat || event.altKey) return;
      const found = keys.find((each) => keyOf(each) === event.key);
      if (!found) return;
      release();
      held = found;
      found.down();
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', release);
    window.addEventListener('blur', release);
    return () => {
      release();
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', release);
      window.removeEventListener('blur', release);
    };
  }, []);
}

/** The list of keys, while `?` is held. */
export function KeyList() {
  const list = useShown((state) => state.list);
  const bindings = useBindings((state) => state.bindings);
  if (!list) return null;
  const rows = [...keys.map((each) => [labelOf(keyOf(each, bindings)), each.words] as const), ...FIXED];
  return (
    <View style={styles.list} pointerEvents="none" role="note" aria-label={say.bench.keys}>
      {rows.map(([key, words]) => (
        <View key={key} style={styles.row}>
          <Text style={[type.figure, styles.key]}>{key}</Text>
          <Text style={type.label}>{words}</Text>
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  list: {
    position: 'absolute',
    top: 70,
    alignSelf: 'center',
    padding: space.l,
    gap: 6,
    borderRadius: radius.m,
    backgroundColor: colour.well,
    borderWidth: 1,
    borderColor: colour.edge,
  },
  row: { flexDirection: 'row', alignItems: 'center', gap: 14 },
  key: { width: 108, textAlign: 'right', color: colour.tape },
});
