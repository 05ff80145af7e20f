import { z } from 'zod';
import type { FilmPlace } from '../geometry/shape';
import type { Facts } from '../measure/facts';
import type { Spot } from '../measure/spot';
import type { Bytes } from '../measure/bytes';
import type { Handle, Params, Values } from '../params';
import type { Image } from '../expressions/image';

export type Family = 'tone' | 'colour' | 'film' | 'light' | 'focus' | 'finish' | 'picture' | 'hand';

/** Families in the order in which the rack shows them. */
export const families: readonly { readonly id: Family; readonly label: string }[] = [
  { id: 'tone', label: 'Tone' },
  { id: 'colour', label: 'Colour' },
  { id: 'film', label: 'Film' },
  { id: 'light', label: 'Light' },
  { id: 'focus', label: 'Focus' },
  { id: 'finish', label: 'Finish' },
  { id: 'picture', label: 'Picture' },
  { id: 'hand', label: 'Hand' },
];

/**
 * sRGB-encoded values (what curves, levels and blends are expected to work on), linear light (what models light), or OKLab (lightness, a, b).
 */
export type Space = 'encoded' | 'linear' | 'oklab';

/** Several params on one drawing; each has its fader too. */
export type Board =
  /** Black, midtone and white over the tones, and what black and white become. */
  | { readonly board: 'levels'; readonly section?: string; readonly params: readonly string[] }
  /** Shares of neighbouring hues side by side. */
  | { readonly board: 'bands'; readonly section?: string; readonly params: readonly string[] }
  /** Three rows of three. */
  | {
      readonly board: 'matrix';
      readonly section?: string;
      readonly params: readonly string[];
      readonly rows: readonly string[];
      readonly columns: readonly string[];
    };

/** What a drag on the photo does: the control it governs, and the values that come of it. */
export interface Dragged<P extends Params = Params> {
  readonly label: string;
  readonly values: Partial<Values<P>>;
}

export interface Kind<Id extends string = string, P extends Params = Params> {
  readonly id: Id;
  readonly family: Family;
  readonly label: string;
  /** One plain sentence: what it does to a picture. */
  readonly note: string;
  /** The space of the values it works on; the engine converts. */
  readonly space: Space;
  readonly params: P;
  /** What the default does: nothing, or what is said here. */
  readonly byDefault: 'neutral' | string;
  /** Values under which the rack shows a kind whose default is neutral. */
  readonly shown?: Partial<Values<P>>;
  /** Named starting points, each with what differs from the defaults. */
  readonly variants?: readonly { readonly label: string; readonly params: Partial<Values<P>> }[];
  /** The section of its params that a list of colour corrections can fill. */
  readonly listed?: string;
  /** It is judged at 1:1: that is offered at once. */
  readonly close?: true;
  /** Drawings that show several of its params at once. */
  readonly boards?: readonly Board[];
  /** What this kind wants to tell of a photo, if it does not suit it well. */
  readonly fit?: (facts: Facts) => string | undefined;
  /** Values found from the picture that a layer reads. */
  readonly auto?: (seen: Bytes) => Partial<Values<P>>;
  /** The one param that they are for, where it is one: a new layer begins with what was found, and the button stands beside its fader. */
  readonly autoFor?: Extract<keyof P, string>;
  /** Its controls on the photo. */
  readonly handle?: Handle;
  /** Coverage that its controls on the photo stand for, to be looked at while they are moved: 1 where it does all it does. */
  readonly map?: (values: Values<P>, place: FilmPlace) => Image;
  /**
   * What moves when a place of the photo is dragged up or down: `amount` goes from -1 to 1. The place is seen as the layer reads it. `section` is the leaf of the
   * controls that is open. Nothing, where no control governs the place.
   */
  readonly drag?: (spot: Spot, values: Values<P>, amount: number, section: string | undefined) => Dragged<P> | undefined;
  /** It brings pixels of its own, which layers inside it change. */
  readonly holds?: true;
  /** Of such a kind: how much of each place it covers. */
  readonly cover?: (values: Values<P>, place: FilmPlace) => Image;
  /** What becomes of what a layer reads, given in the kind's space. To leave the picture as it is, `read` itself is given back. */
  readonly work: Work<P>;
  /** The number of that work; 1, unless said. A layer keeps the one that it was made with, so that what was finished stays as it is. */
  readonly revision?: number;
  /** Of a later one than 1: a sentence that says what it does otherwise. */
  readonly changes?: string;
  /** Earlier work by its number, for as long as it differs by more than a level anywhere on the proof sheets. */
  readonly earlier?: Readonly<Record<number, Work<P>>>;
}

type Work<P extends Params> = (read: Image, values: Values<P>, place: FilmPlace) => Image;

/** The number of the work that a new layer of a kind is made with. */
export const revisionOf = ({ revision = 1 }: Pick<Kind, 'revision'>): number => revision;

/** The schema of a layer's revision: of one that this program knows. A layer that says none is of the first. */
export const revisionSchema = (kind: Pick<Kind, 'revision'>): z.ZodOptional<z.ZodNumber> =>
  z.number().int().min(1).max(revisionOf(kind), 'A newer Bexlen made this layer.').optional();

/** The work of a kind as a layer of some revision has it. */
export const workOf = <P extends Params>(
  { work, earlier, revision = 1 }: Pick<Kind<string, P>, 'work' | 'earlier' | 'revision'>,
  wanted: number,
): Work<P> => (wanted === revision ? work : (earlier?.[wanted] ?? work));

/** One kind of layer. Schema, controls, docs and the tests over all kinds follow from it. */
export const defineKind = <const Id extends string, const P extends Params>(kind: Kind<Id, P>): Kind<Id, P> => kind;
