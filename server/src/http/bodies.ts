import { BexlenError, named, readStack, type Stack } from '@bexlen/core';
import {
  newVersion,
  pictureWish,
  sheetWish,
  versionChange,
  type SheetWish,
  type NewVersion,
  type Named,
  type Step,
  type VersionChange,
} from '@bexlen/api';

const stepsOf = (steps: readonly Step[]): Step[] => steps.map(({ words, stack }) => ({ words, stack: readStack(stack) }));

/** Bodies of requests that may be long: what comes out has been checked to the last parameter. Throw what is wrong. */
export const bodies = {
  'new-version': (input: unknown): Named<NewVersion> => {
    const body = newVersion.parse(input);
    return { ...body, steps: stepsOf(body.steps), strokes: body.strokes.map(named) };
  },
  'version-change': (input: unknown): Named<VersionChange> => {
    const body = versionChange.parse(input);
    return { ...body, steps: stepsOf(body.steps), strokes: body.strokes.map(named) };
  },
  picture: (input: unknown): { stack: Stack } => ({ stack: readStack(pictureWish.parse(input).stack) }),
  sheet: (input: unknown): SheetWish => {
    const body = sheetWish.parse(input);
    return { ...body, cells: body.cells.map((cell) => ({ ...cell, stack: readStack(cell.stack) })) };
  },
};

export type BodyName = keyof typeof bodies;

/** The value of a text of JSON. Throws `bad-request`. */
export function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new BexlenError('bad-request', 'The request is not JSON.', 'Send it again as JSON.');
  }
}
