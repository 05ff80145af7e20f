import type { Gamut } from '../pixels/gamut';
import type { Layout } from '../pixels/picture';
import type { Program, Value } from '../stack/program';
import type { Stack } from '../stack/schema';
import type { Source } from './machine';

/** What a picture is made of, or a mask as greys instead of it, and the layer whose tones are counted. */
export interface Asked {
  readonly stack: Stack;
  readonly gamut?: Gamut;
  readonly watch?: string;
  readonly mask?: string;
}

/** Whoever has a photo open and knows its programs: the processor's engine. */
export interface Opened {
  /** The program for what is asked, and the pixels that it reads. */
  seen(asked: Asked): { readonly program: Program; readonly sources: ReadonlyMap<Value, Source> };
}

/** One that also makes pictures, to be compared with. */
export interface Comparable extends Opened {
  open(layout: Layout): Uint8Array;
  render(order: { readonly stack: Stack; readonly format: 'screen' }): { readonly pixels: Uint8Array } | undefined;
  close(): void;
}
