import type { FilmPlace } from '../geometry/shape';
import { opIn, opOf, undoes, type Content, type OpId } from '../expressions/ops';
import type { Image, Table } from '../expressions/image';
import type { Matrix } from '../geometry/matrix';
import type { Gamut } from '../pixels/gamut';
import { BexlenError } from '../errors';
import { echoed } from '../refusals';
import { noResources, type Resources } from '../resources';
import { inputsOf, PHOTO, type Step, type Value, type ValueNumbers } from './program';

/** How a blur spreads. */
export type Spreading = Pick<Extract<Image, { make: 'blur' }>, 'sigmaPx' | 'by'>;

/** What is mixed, and how. */
export type Mixing = Omit<Extract<Step, { do: 'mix' }>, 'do' | 'to' | 'inside'>;

/** Whether a step makes nothing beyond black and white out of what lies between them. */
function staysInside(step: Step): boolean {
  if (step.do === 'mix') return step.strength <= 1;
  if (step.do === 'fade') return step.t <= 1;
  if (step.do === 'picture') return true;
  return step.do === 'blur' || (step.do === 'point' && opOf(step.op).inside === true);
}

/** Collects the steps of a program. Each method returns the value that its step makes; the same step is taken up only once. */
export class Emitter {
  /** Values whose pixels are four numbers, not colours. */
  readonly numbers = new Set<Value>();
  /** The picture that the first layer reads. */
  photo: Value = PHOTO;
  /** What the steps' tables are made by. */
  readonly tables = new Map<string, () => Float32Array>();
  private readonly made = new Map<Value, Step>();
  /** Values between black and white. */
  private readonly inside = new Set<Value>([PHOTO]);
  private readonly resources: Resources;
  private readonly gamut: Gamut;

  constructor(
    { resources = noResources, gamut = 'srgb' }: FilmPlace,
    private readonly names: ValueNumbers,
  ) {
    this.resources = resources;
    this.gamut = gamut;
    names.begin();
  }

  /** The steps so far, each after those that it reads. */
  get steps(): readonly Step[] {
    return [...this.made.values()];
  }

  contentOf(value: Value): Content {
    return this.numbers.has(value) ? 'numbers' : 'colour';
  }

  /** Returns the id of a table that steps read. */
  table({ id, make }: Table): string {
    if (!this.tables.has(id)) this.tables.set(id, make);
    return id;
  }

  /** @throws {Error} where an operation takes numbers and is given colours, or the other way round. */
  point(asked: OpId, from: readonly Value[], given: readonly number[] = [], read?: Table): Value {
    const op = opIn(this.gamut, asked);
    const { takes, gives } = opOf(op);
    from.forEach((value, i) => {
      if (this.contentOf(value) !== takes[i]) throw new Error(`${op} takes ${takes[i]} as its input ${i + 1}, not ${this.contentOf(value)}`);
    });
    const last = from[0] === undefined ? undefined : this.made.get(from[0]);
    if (last?.do === 'point' && undoes[op] === last.op) return last.from[0] as Value;
    const table = read && this.table(read);
    const recipe = `${op} ${given.join(' ')} ${table ?? '-'} ${from.map((v) => `#${v}`).join(' ')}`;
    const to = this.emit(recipe, (at) => ({ do: 'point', to: at, op, from, numbers: given, ...(table !== undefined && { table }) }));
    if (gives === 'numbers') this.numbers.add(to);
    return to;
  }

  blur(from: Value, { sigmaPx, by }: Spreading): Value {
    const numbers = this.numbers.has(from);
    const recipe = by ? `${by.filter} ${by.numbers.join(' ')}` : `blur ${sigmaPx}`;
    const to = this.emit(`${recipe} #${from}`, (made) => ({ do: 'blur', to: made, from, sigmaPx, ...(numbers && { numbers }), ...(by && { by }) }));
    if (numbers) this.numbers.add(to);
    return to;
  }

  /**
   * Another photo, resampled through a map.
   * @throws {BexlenError} where it is not at hand.
   */
  picture(name: string, map: Matrix): Value {
    const key = this.resources.pictures.keyOf(name);
    if (key === undefined) throw new BexlenError('not-found', `The picture “${echoed(name)}” is not at hand.`, 'Choose a photo in its layer again.');
    const to = this.emit(`picture ${key} ${map.join(' ')}`, (made) => ({ do: 'picture', to: made, name, key, map }));
    this.numbers.add(to);
    return to;
  }

  mix(mixing: Mixing): Value {
    const { mode, strength, own, beneath, weights = [], mask, under, over } = mixing;
    const recipe = `mix ${mode} ${strength} ${own ?? '-'} ${beneath ?? '-'} ${weights.join(' ')} #${under} #${over}${mask === undefined ? '' : ` #${mask}`}`;
    return this.emit(recipe, (to) => ({ do: 'mix', to, ...mixing }));
  }

  /** The way from the photo (0) to another value (1), and beyond it. */
  fade(toward: Value, t: number): Value {
    const from = this.photo;
    if (t === 1 || toward === from) return toward;
    if (t === 0) return from;
    return this.emit(`fade ${t} #${from} #${toward}`, (to) => ({ do: 'fade', to, from, toward, t }));
  }

  private emit(recipe: string, make: (to: Value) => Step): Value {
    const to = this.names.of(recipe);
    if (this.made.has(to)) return to;
    const step = make(to);
    const within = inputsOf(step).every((value) => this.inside.has(value));
    if (within && staysInside(step)) this.inside.add(to);
    this.made.set(to, within && step.do === 'mix' ? { ...step, inside: true } : step);
    return to;
  }
}
