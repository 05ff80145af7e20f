import { readCube } from '@bexlen/core';
import type { Fault } from '../api';
import { bodies, parsed, type BodyName } from './bodies';
import { asFault, toFault } from './faults';

export interface Task {
  readonly check: BodyName | 'cube';
  readonly text: string;
}
export type Told = { readonly value: unknown } | { readonly fault: Fault };

/** What a thread for checks does with one text. */
export default function check({ check: what, text }: Task): Told {
  try {
    return { value: what === 'cube' ? readCube(text) : bodies[what](parsed(text)) };
  } catch (error) {
    return { fault: toFault(asFault(error)) };
  }
}
