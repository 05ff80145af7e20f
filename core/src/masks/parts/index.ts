import type { PartKind } from '../part';
import { band } from './band';
import { brush } from './brush';
import { colour } from './colour';
import { edges } from './edges';
import { oval } from './oval';
import { ramp } from './ramp';
import { sameAs } from './same-as';
import { spot } from './spot';
import { tones } from './tones';

/** All parts that a mask can be made of, in the order in which they are offered. */
export const partKinds = [oval, band, ramp, brush, tones, colour, spot, edges, sameAs] as const;
export type PartId = (typeof partKinds)[number]['id'];

const byId = new Map<string, PartKind>(partKinds.map((part) => [part.id, part as unknown as PartKind]));

/** The part of an id from a checked version. Throws on an unknown one. */
export function partKindOf(id: string): PartKind {
  const part = byId.get(id);
  if (!part) throw new Error(`no part of a mask is called ${id}`);
  return part;
}
export const isPart = (id: string): id is PartId => byId.has(id);
