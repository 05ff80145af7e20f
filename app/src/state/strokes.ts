import { namersOf, strokesSince, type Painted } from '@bexlen/core';
import type { Step } from '@bexlen/server/api';

/** Strokes that the server is known to have. */
const kept = new Set<string>();
export const markKept = (name: string): void => void kept.add(name);

/** Strokes that steps name and the server may not have, each after the one that it follows. */
export const unsentStrokes = (steps: readonly Step[]): Painted[] =>
  strokesSince(
    steps.flatMap(({ stack }) => [...namersOf(stack.layers, 'painting').keys()]),
    (name) => kept.has(name),
  );
