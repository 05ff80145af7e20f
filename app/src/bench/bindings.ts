import { z } from 'zod';
import { create } from 'zustand';
import { keepHabit, readHabit } from '../state/habits';
import { parsed } from '../state/parsed';
import { say } from '../words';

const KEY = 'bexlen-keys';
/** The file of somebody's keys. */
const keysFile = z.strictObject({ keys: z.literal(1), bindings: z.record(z.string().max(40), z.string().min(1).max(20)) });

/** Keys that somebody has given to what the bench can do, by what that is; the rest has the keys that it comes with. */
export const useBindings = create<{ readonly bindings: Readonly<Record<string, string>> }>(() => ({
  bindings: readHabit(KEY, keysFile.shape.bindings, {}),
}));

interface Bound {
  readonly id: string;
  readonly key: string;
  readonly words: string;
}

/** The key that does something. */
export const keyOf = ({ id, key }: Pick<Bound, 'id' | 'key'>, bindings = useBindings.getState().bindings): string => bindings[id] ?? key;

/** Keys that belong to every control or to the browser. */
const RESERVED = /^(Tab|Enter| |Arrow.*|Backspace|Delete|Shift|Control|Alt|Meta|CapsLock|F\d+|Dead|Unidentified|PageUp|PageDown|Home|End)$/;

/** Why a key cannot be given to something; nothing, if it can. */
export function conflictOf(all: readonly Bound[], id: string, key: string): string | undefined {
  if (RESERVED.test(key)) return say.bench.labelBelongsToTheControlsPress(labelOf(key));
  const taken = all.find((other) => other.id !== id && keyOf(other) === key);
  return taken && say.bench.labelDoesWordsPressAnotherKey(labelOf(key), taken.words);
}

function keep(bindings: Readonly<Record<string, string>>): void {
  useBindings.setState({ bindings });
  keepHabit(KEY, bindings);
}

export const bind = (id: string, key: string): void => keep({ ...useBindings.getState().bindings, [id]: key });
export const asTheyCame = (): void => keep({});

export const bindingsFile = (): string => `${JSON.stringify({ keys: 1, bindings: useBindings.getState().bindings }, null, 2)}\n`;

/** Takes keys from the text of a file. Gives what is wrong with it; nothing, if all is well. What it names and this Bexlen does not know is left out. */
export function takeBindings(all: readonly Bound[], text: string): string | undefined {
  const read = keysFile.safeParse(parsed(text));
  if (!read.success) return say.bench.thisIsNoFileOfKeys;
  const known = Object.entries(read.data.bindings).filter(([id]) => all.some((each) => each.id === id));
  const after = all.map((each) => keyOf(each, Object.fromEntries(known)));
  const twice = after.find((key, i) => after.indexOf(key) !== i);
  if (twice !== undefined) return say.bench.labelIsAssignedTwiceFixThe(labelOf(twice));
  const reserved = known.find(([, key]) => RESERVED.test(key));
  if (reserved) return say.bench.labelBelongsToTheControlsFix(labelOf(reserved[1]));
  keep(Object.fromEntries(known));
  return undefined;
}

/** A key as it is written on keyboards. */
export const labelOf = (key: string): string => (key === 'Escape' ? 'Esc' : key.toUpperCase());
