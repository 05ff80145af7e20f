import type { FocusShape } from '../shape';
import { band } from './band';
import { oval } from './oval';
import { pin } from './pin';

/** All ways of telling what is in focus, in the order in which they are offered. */
export const focusShapes = [band, oval, pin] as const;
export type FocusShapeId = (typeof focusShapes)[number]['id'];

const byId = new Map<string, FocusShape>(focusShapes.map((shape) => [shape.id, shape as unknown as FocusShape]));

/** The shape of an id. Throws on an unknown one. */
export function focusShapeOf(id: string): FocusShape {
  const shape = byId.get(id);
  if (!shape) throw new Error(`no focus is called ${id}`);
  return shape;
}
