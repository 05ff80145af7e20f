import type { FilmPlace } from '../geometry/shape';
import type { Handle, Params, Values } from '../params';
import type { Image } from '../expressions/image';

/** What a tap on the photo, and a drag on from it, do to a part. */
export interface Pick<P extends Params> {
  /** What the drag changes. */
  readonly drag: Extract<keyof P, string>;
  /** The list of samples to which the tapped place is added, or by which it is replaced. */
  readonly samples?: Extract<keyof P, string>;
  /** Values that follow from the tapped place alone. */
  readonly values?: (sample: { readonly x: number; readonly y: number; readonly tone: number }) => Partial<Values<P>>;
}

export interface PartKind<Id extends string = string, P extends Params = Params> {
  readonly id: Id;
  readonly label: string;
  /** One plain sentence: where it lets a layer land. */
  readonly note: string;
  readonly params: P;
  /** It looks at the picture: at the untouched photo, or at what lies beneath its layer. */
  readonly reads: boolean;
  /** Its controls on the photo. */
  readonly handle?: Handle;
  readonly pick?: Pick<P>;
  /**
   * Coverage 0..1. `picture` is what it looks at. `maskOf` gives the mask of another layer; nothing, if that lets all through.
   */
  readonly work: (values: Values<P>, place: FilmPlace, picture: Image, maskOf: (layer: string) => Image | undefined) => Image;
}

/** One part of masks. Schema, chips, handles, docs and the tests over all parts follow from it. */
export const definePart = <const Id extends string, const P extends Params>(part: PartKind<Id, P>): PartKind<Id, P> => part;
