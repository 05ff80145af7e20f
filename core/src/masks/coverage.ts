import type { FilmPlace } from '../geometry/shape';
import { gaussian, photo, source, type Image } from '../expressions/image';
import { alongEdges, between, both, either, inverted, nothing, scaled } from '../expressions/coverage';
import { isEffective, type Mask, type Part } from './mask';
import { partKindOf } from './parts';

/** How far a part is led along edges, as a share of the long edge. */
const KEEP_TO_EDGES = 0.01;

/**
 * The coverage of a mask, 0..1; nothing, if it lets all through. `source` is what lies beneath the layer.
 * @param maskOf the mask of another layer, by its id.
 */
export function coverageOf(mask: Mask, place: FilmPlace, maskOf: (layer: string) => Image | undefined): Image | undefined {
  if (!isEffective(mask)) return undefined;
  const live = mask.parts.filter(({ on }) => on);
  const joined = live.reduce<Image | undefined>((before, part) => joinedTo(before, part, coverageOfPart(part, place, maskOf)), undefined);
  const whole = joined && gaussian(joined, mask.soften * place.edge);
  // Turned round, a mask of no part lets nothing through.
  const turned = whole === undefined ? nothing(place) : mask.inverted ? inverted(whole) : whole;
  return scaled(turned, mask.density, 1 - mask.density);
}

function coverageOfPart(
  { part, params, reads, keep, inverted: turned }: Part,
  place: FilmPlace,
  maskOf: (layer: string) => Image | undefined,
): Image {
  const picture = reads === 'photo' ? photo : source;
  const plain = partKindOf(part).work(params as never, place, picture, maskOf);
  const kept = keep === 0 ? plain : between(plain, alongEdges(plain, photo, KEEP_TO_EDGES * place.edge), keep);
  return turned ? inverted(kept) : kept;
}

/** The first part begins from nothing if it adds, and from everything if it takes away or keeps within. */
function joinedTo(before: Image | undefined, { join, amount }: Part, coverage: Image): Image {
  const whole =
    join === 'within' ? scaled(coverage, amount, 1 - amount) : join === 'take' ? scaled(coverage, -amount, 1) : scaled(coverage, amount, 0);
  if (!before) return whole;
  return join === 'add' ? either(before, whole) : both(before, whole);
}
