import { namersOf, type Painted } from '@bexlen/core';
import type { Step } from '@bexlen/api';
import { resources } from './resources';

/** Strokes that the server is known to have. */
const kept = new Set<string>();
export const markKept = (name: string): void => void kept.add(name);

/** Strokes that steps name and the server may not have, each after the one that it follows. */
export const unsentStrokes = (steps: readonly Step[]): Painted[] =>
  resources.strokes.since(
    steps.flatMap(({ stack }) => [...namersOf(stack.layers, 'painting').keys()]),
    (name) => kept.has(name),
  );

/** Lets go of what the page has of resources, but for strokes that the server may not have: all else can be fetched again. */
export function forgetResources(): void {
  resources.forget((name) => !kept.has(name));
  kept.clear();
}
