import { BexlenError } from '../errors';
import { fileLabel } from '../params';
import { echoed } from '../refusals';
import type { Cube } from './cube';
import { Pictures } from './pictures';
import { Strokes } from './strokes';

/**
 * What stacks name that is kept elsewhere, as far as it is at hand: colour tables, painted strokes, other photos. Whoever renders holds one for as long as it is
 * needed, and hands it on with the place of what is made (`FilmPlace`).
 */
export class Resources {
  readonly strokes = new Strokes();
  readonly pictures = new Pictures();
  private readonly cubes = new Map<string, Cube>();

  setCube(name: string, cube: Cube): void {
    this.cubes.set(name, cube);
  }

  /** Lets go of everything, but strokes that somebody still needs. */
  forget(needsStroke: (name: string) => boolean = () => false): void {
    this.cubes.clear();
    this.pictures.clear();
    this.strokes.keepOnly(needsStroke);
  }

  /** A colour table by its name. @throws `not-found` if it is not at hand. */
  cube(name: string): Cube {
    const cube = this.cubes.get(name);
    if (!cube)
      throw new BexlenError('not-found', `The cube file “${echoed(fileLabel(name))}” is not at hand.`, 'Choose the file again in its layer.');
    return cube;
  }
}

/** Nothing is at hand. */
export const noResources = new Resources();

export type { Cube } from './cube';
export type { AtHand, Pixels } from './pictures';
export { isLive, liveName } from './strokes';
export {
  MOST_PAINTED,
  MOST_POINTS,
  MOST_STROKES,
  named,
  nameOf,
  paintedSchema,
  pointsOf,
  traceOf,
  type NamedStroke,
  type Painted,
  type Stroke,
  type StrokePoint,
} from './stroke';
