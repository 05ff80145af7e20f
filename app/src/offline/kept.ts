/** What of the server's answers is kept for when it is away. */
export type Kept = 'data' | 'small' | 'pixels' | 'named';

/** Says of a request for a part of a photo that its answer belongs to the picture in working size. */
export const KEEP_HEADER = 'bexlen-keep';

const RULES: readonly (readonly [RegExp, Kept])[] = [
  [/^\/api\/(photos|rolls|looks|presets|exports)$/, 'data'],
  [/^\/api\/(photos|versions)\/[^/]+$/, 'data'],
  [/^\/api\/(photos|versions)\/[^/]+\/thumb$/, 'small'],
  [/^\/api\/(strokes|cubes)\/[^/]+$/, 'named'],
];
const PIXELS = /^\/api\/photos\/[^/]+\/pixels$/;

/** Where an answer is kept, if at all: of pixels only whole photos, and parts that are asked for as such. */
export function keptIn({ pathname, searchParams }: URL, asked: boolean): Kept | undefined {
  if (PIXELS.test(pathname)) return asked || !searchParams.has('x') ? 'pixels' : undefined;
  return RULES.find(([pattern]) => pattern.test(pathname))?.[1];
}
