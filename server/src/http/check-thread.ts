import { readCube } from '@bexlen/core';
import type { Fault } from '@bexlen/api';
import { looksIn } from '../looks/archive';
import { bodies, parsed, type BodyName } from './bodies';
import { asFault, toFault } from './faults';

export type Task = { readonly check: BodyName | 'cube'; readonly text: string } | { readonly check: 'looks'; readonly bytes: Uint8Array };
export type Told = { readonly value: unknown } | { readonly fault: Fault };

/** What a thread for checks does with one text. */
export default async function check(task: Task): Promise<Told> {
  try {
    if (task.check === 'looks') return { value: await looksIn(Buffer.from(task.bytes)) };
    return { value: task.check === 'cube' ? readCube(task.text) : bodies[task.check](parsed(task.text)) };
  } catch (error) {
    return { fault: toFault(asFault(error)) };
  }
}
