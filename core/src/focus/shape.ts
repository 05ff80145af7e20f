import type { FilmPlace } from '../geometry/shape';
import type { Handle, Params, Values } from '../params';
import type { Image } from '../expressions/image';

/** One way of telling what is in focus. Schema, chips, handles and tests follow from it. */
export interface FocusShape<Id extends string = string, P extends Params = Params> {
  readonly id: Id;
  readonly label: string;
  /** One plain sentence: what is sharp. */
  readonly note: string;
  readonly params: P;
  readonly handle: Handle;
  /** How much is blurred, 0..1. Pins have none by themselves: all of them are read together. */
  readonly work?: (values: Values<P>, place: FilmPlace) => Image;
}

export const defineFocus = <const Id extends string, const P extends Params>(shape: FocusShape<Id, P>): FocusShape<Id, P> => shape;
