/**
 * What a version is, and what it comes to.
 *
 * `schema.ts` says what a stack holds, `read.ts` checks one from outside, with its limits and words of refusal; `older.ts` reads what earlier ones wrote, `compact.ts`
 * leaves out what need not be said. `references.ts` finds and renames all that layers name. `edit.ts` is what can be done to a stack: each
 * edit gives a new one and leaves the old as it was. `compile.ts` turns a stack into a program (`program.ts`), straight-line steps on numbered values, and `reach.ts` tells how far
 * beyond a pixel such a program reads. Nothing here computes a pixel: that is done next door, in `engine/`. Read in this order.
 */
export { compact } from './compact';
export * from './edit';
export * from './needs';
export * from './reach';
export { readStack, wrongLink } from './read';
export { asksFor, lacks, namedBy, namedIn, namersOf, renamed, type Reference } from './references';
export {
  allLayers,
  beforeLayers,
  emptyStack,
  layerSchema,
  channelParams,
  masterParams,
  MAX_LAYERS,
  MAX_NESTING,
  plainChannel,
  stackSchema,
  type Group,
  type KindLayer,
  type Layer,
  type Stack,
} from './schema';
export { controlMapOf, EVERY_MASK, lightMapOf } from './maps';
