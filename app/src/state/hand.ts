import { z } from 'zod';
import { create } from 'zustand';
import { keepHabit, readHabit } from './habits';

const KEY = 'bexlen-hand';
const hand = z.enum(['right', 'left']);
type Hand = z.infer<typeof hand>;

/** The hand whose thumb works the desk of a phone; kept in this browser. */
export const useHand = create<{ readonly hand: Hand }>(() => ({ hand: readHabit<Hand>(KEY, hand, 'right') }));

export function changeHand(): void {
  const next = useHand.getState().hand === 'right' ? 'left' : 'right';
  useHand.setState({ hand: next });
  keepHabit(KEY, next);
}
