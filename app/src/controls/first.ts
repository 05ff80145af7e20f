import { noteTold, wasTold } from '../state/told';

/** What is said of a control after it was touched for the first time on this device. */
const FIRST = {
  grip: 'Drag this to change the order. Dropped onto another channel, the two make a group.',
  switch: 'A layer that is off is left out of the picture. Nothing is lost.',
  tape: 'The tape opens the channel. Hold it to rename the layer.',
} as const;

/** Marks a control that says what it does after its first touch. */
export const saysFirst = (id: keyof typeof FIRST): object => ({ dataSet: { first: id } });

/** What something touched has to say, if it is the first time; asked once. */
export function firstWords(target: EventTarget | null): string | undefined {
  const id = (target as Element | null)?.closest?.('[data-first]')?.getAttribute('data-first') as keyof typeof FIRST | null | undefined;
  if (!id || wasTold(`first-${id}`)) return undefined;
  noteTold(`first-${id}`);
  return FIRST[id];
}
