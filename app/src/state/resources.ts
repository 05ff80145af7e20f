import { Resources } from '@bexlen/core';

/** What the stacks on the bench name, as far as this page has it: painted strokes, and which pictures the workers hold. */
export const resources = new Resources();
