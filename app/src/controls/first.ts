import { noteShown, wasShown } from '../state/once';
import { say } from '../words';

/** What is said of a control after it was touched for the first time on this device. */
const FIRST = {
  grip: say.controls.dragThisToChangeTheOrder,
  switch: say.controls.aLayerThatIsOffIs,
  tape: say.controls.theTapeOpensTheChannelHold,
} as const;

/** Marks a control that says what it does after its first touch. */
export const saysFirst = (id: keyof typeof FIRST): object => ({ dataSet: { first: id } });

/** What something touched has to say, if it is the first time; asked once. */
export function firstWords(target: EventTarget | null): string | undefined {
  const id = (target as Element | null)?.closest?.('[data-first]')?.getAttribute('data-first') as keyof typeof FIRST | null | undefined;
  if (!id || wasShown(`first-${id}`)) return undefined;
  noteShown(`first-${id}`);
  return FIRST[id];
}
