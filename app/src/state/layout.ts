import { z } from 'zod';
import { create } from 'zustand';
import { keepHabit, readHabit } from './habits';

const KEY = 'bexlen-wide-desk';
export const DESK_HEIGHTS = ['low', 'half', 'full'] as const;
export type DeskHeight = (typeof DESK_HEIGHTS)[number];
const layout = z.object({
  height: z.enum(DESK_HEIGHTS),
  /** Where the desk is beside an upright photo. */
  upright: z.enum(['side', 'below']),
});
type Layout = z.infer<typeof layout>;

/** How the wide bench is laid out; kept in this browser. */
export const useLayout = create<Layout>(() => readHabit<Layout>(KEY, layout, { height: 'low', upright: 'side' }));

const keep = (change: Partial<Layout>): void => {
  useLayout.setState(change);
  keepHabit(KEY, useLayout.getState());
};

/** Raises or lowers the desk by a number of steps. */
export function changeHeight(steps: number): void {
  const at = DESK_HEIGHTS.indexOf(useLayout.getState().height) + steps;
  keep({ height: DESK_HEIGHTS[Math.min(DESK_HEIGHTS.length - 1, Math.max(0, at))] ?? 'low' });
}

/** Returns the next height; after the highest comes the lowest. */
export const nextHeight = (): void => (useLayout.getState().height === 'full' ? changeHeight(-2) : changeHeight(1));

/** Moves the desk to its other place beside an upright photo. */
export const moveDesk = (): void => keep({ upright: useLayout.getState().upright === 'side' ? 'below' : 'side' });
