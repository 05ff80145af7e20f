import { modeFamilies, modes } from '../blend';
import { focusShapes } from '../focus/shapes';
import { ratios } from '../geometry/crop';
import { families, kinds } from '../kinds';
import { developmentParams } from '../kinds/development';
import { placesOfLooks } from '../looks/putting';
import { joinParams, joins, maskParams } from '../masks/mask';
import { partKinds } from '../masks/parts';
import { regions } from '../measure/histogram';
import { geometryParams } from '../geometry/geometry';
import { channelParams, masterParams } from '../stack';
import { nameWords } from '../formats/names';
import { figuresIn } from '../params/figure';
import { toldIn, type ToldLanguage } from '.';

/** What of a definition is said to people. */
const SAID = ['label', 'note', 'changes', 'section', 'listed'];

/** All that is defined with words of its own. */
export const definitions: readonly unknown[] = [
  ...[families, kinds, modeFamilies, modes, partKinds, joins, focusShapes, regions, placesOfLooks, ratios],
  ...[channelParams, masterParams, geometryParams, maskParams, joinParams, developmentParams, nameWords],
];

/** Calls a function with everything that definitions say, and puts in its place what that returns. */
export function eachSaid(of: unknown, to: (text: string) => string, seen = new Set<unknown>()): void {
  if (typeof of !== 'object' || of === null || seen.has(of) || ArrayBuffer.isView(of)) return;
  seen.add(of);
  for (const [key, value] of Object.entries(of)) {
    if (typeof value === 'string' && SAID.includes(key)) (of as Record<string, unknown>)[key] = to(value);
    else eachSaid(value, to, seen);
  }
}

/** Puts the words of all definitions into a language: once for a page, before any of them is shown. */
export function localise(language: ToldLanguage, more: readonly unknown[] = []): void {
  if (language === 'en') return;
  eachSaid([definitions, more], (text) => toldIn(language, text));
  figuresIn(language);
}
