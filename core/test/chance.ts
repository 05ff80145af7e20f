import { modeIds } from '../src/blend';
import { kindOf, kinds, type KindId } from '../src/kinds';
import { focuses } from '../src/focus/focus';
import { focusType, type Focus } from '../src/params/focus';
import { randomValue, type Chance as Chances, type Param, type ParamValue, type Referent } from '../src/params';
import { openGate, type Gate } from '../src/masks/gate';
import { emptyMask, joins, newPart, type Mask, type Part } from '../src/masks/mask';
import { partKindOf, partKinds, type PartId } from '../src/masks/parts';
import type { Layout } from '../src/pixels/picture';
import type { Order } from '../src/engine/engine';
import type { Layer, Stack } from '../src/stack/schema';
import { extremes, group, layer, scene, sequence, nameOfAny, stackOf } from './kernels';

const MOST_LAYERS = 12;

/** Photos, stacks and changes of them by a repeatable sequence. */
export class Chance implements Chances {
  private readonly next: () => number;

  constructor(seed: number) {
    this.next = sequence(seed);
    for (let i = 0; i < 5; i++) this.next();
  }

  is(share: number): boolean {
    return this.next() < share;
  }
  from(low: number, high: number): number {
    return low + (high - low) * this.next();
  }
  below(n: number): number {
    return Math.floor(this.from(0, n));
  }
  of<T>(all: readonly T[]): T {
    return all[this.below(all.length)] as T;
  }

  photo(): { layout: Layout; values: (i: number) => number } {
    const [width, height] = [40 + this.below(200), 30 + this.below(120)];
    const channels = this.is(0.75) ? 3 : 4;
    const all = scene(width, height, 4);
    const values = (i: number): number => all[channels === 4 ? i : 4 * Math.floor(i / 3) + (i % 3)] as number;
    return { layout: { width, height, depth: this.of([8, 16] as const), channels }, values };
  }

  /** A picture with what pictures have: a smooth sky over a hard horizon, noise, full black, full white, strong colours; opaque or half-transparent. */
  proof(layout: Layout): (i: number) => number {
    const { width, height, channels } = layout;
    const [horizon, slant, hue] = [this.from(0.3, 0.7), this.from(-0.4, 0.4), this.from(0, 6)];
    const noise = Array.from({ length: width * height }, () => this.from(-0.5, 0.5));
    const bars = [0, 1, 0.5, this.from(0, 1)];
    const held = (v: number): number => Math.min(1, Math.max(0, v));
    const value = (i: number): number => {
      const [p, c] = [Math.floor(i / channels), i % channels];
      const [u, v] = [(p % width) / width, Math.floor(p / width) / height];
      if (c === 3) return u < 0.2 ? 1 : held(0.15 + 0.8 * Math.abs(Math.sin(3 * u + 4 * v)));
      const above = v < horizon + slant * (u - 0.5);
      if (above) return held(0.35 + 0.6 * v + 0.12 * u + 0.14 * Math.sin(hue + 2.1 * c));
      if (v > 0.9) return u < 0.5 ? (bars[Math.floor(u * 8)] as number) : Number(Math.floor(u * 12) % 3 === c);
      return held(0.25 + 0.25 * Math.sin(9 * u + c + hue) * Math.cos(11 * v) + 0.1 * c + 0.12 * (noise[p] as number));
    };
    const all = Float64Array.from({ length: width * height * channels }, (_, i) => value(i));
    return (i) => all[i] as number;
  }

  /** Values of a kind's params: at the ends of their ranges, at their defaults, or between. */
  params(id: KindId): Record<string, ParamValue> {
    // A picture of about as many pixels as are made, and corners pulled only so far that it lies between them.
    if (id === 'picture') return { ...this.any(id), size: this.from(0.6, 1.1), aspect: this.from(0.5, 0.9), ...this.pulls() };
    return this.any(id);
  }

  private pulls(): Record<string, number> {
    return Object.fromEntries(['a', 'b', 'c', 'd'].flatMap((corner) => ['x', 'y'].map((way) => [`${corner}${way}`, this.from(-0.05, 0.05)])));
  }

  private any(id: KindId): Record<string, ParamValue> {
    return Object.fromEntries(Object.entries(kindOf(id).params).map(([name, param]) => [name, this.value(param)]));
  }

  /** Bands, ovals and pins; all of these or some. */
  focus(): readonly Focus[] {
    return focusType.random(focuses([]), this);
  }

  private value(param: Param): ParamValue {
    return randomValue(param, this);
  }

  name(of: Referent): string {
    return nameOfAny(of);
  }

  part(part: PartId, id: string): Part {
    const params = Object.fromEntries(Object.entries(partKindOf(part).params).map(([name, param]) => [name, this.value(param)]));
    const rest = {
      join: this.of(joins).id,
      inverted: this.is(0.3),
      amount: this.is(0.6) ? 1 : this.from(0, 1),
      reads: this.of(['photo', 'below'] as const),
    };
    return { ...newPart(part, id), ...rest, keep: this.is(0.8) ? 0 : this.from(0, 1), on: this.is(0.9), params };
  }

  /** A mask of some parts; often none. */
  mask(often = 0.3): Mask {
    if (!this.is(often)) return emptyMask;
    const parts = Array.from({ length: 1 + this.below(3) }, (_, i) => this.part(this.of(partKinds).id, `p${i}`));
    return {
      on: this.is(0.95),
      parts,
      soften: this.is(0.7) ? 0 : this.from(0, 0.05),
      density: this.is(0.7) ? 1 : this.from(0, 1),
      inverted: this.is(0.2),
    };
  }

  gate(): Gate {
    if (this.is(0.75)) return openGate;
    const nodes = [0, 0.5, 1].map((x): [number, number] => [x, this.from(0, 1)]);
    return { ...openGate, [this.of(['own', 'beneath'])]: { shape: this.of(['straight', 'smooth']), nodes } };
  }

  layer(): Layer {
    const { id } = this.is(0.25) ? { id: 'blur' as const } : this.of(kinds);
    const params = id === 'blur' ? { radius: Math.min(0.1, this.of([0.002, 0.01, 0.04, 0.1]) * this.from(0.7, 1.3)) } : this.of(extremes(id));
    const [strength, reads] = [this.is(0.3) ? 1 : this.from(0, 1), this.is(0.15) ? 'photo' : 'below'] as const;
    return layer(id, params, {
      strength,
      reads,
      blend: this.of(modeIds),
      gate: this.gate(),
      on: this.is(0.9),
      mask: this.mask(),
      masked: this.is(0.3),
    });
  }

  stack(): Stack {
    return stackOf(...Array.from({ length: 1 + this.below(7) }, () => this.layer()));
  }

  changed(stack: Stack): Stack {
    const layers = [...stack.layers];
    const at = this.below(layers.length);
    const it = layers[at] as Layer;
    const pair = layers.slice(at, at + 2).filter(({ kind }) => kind !== 'group');
    const change = this.of(['strength', 'strength', 'switch', 'blend', 'other', 'more', 'less', 'order', 'group', 'master'] as const);
    if (change === 'strength') layers[at] = { ...it, strength: this.from(0, 1) };
    if (change === 'switch') layers[at] = { ...it, on: !it.on };
    if (change === 'blend') layers[at] = { ...it, blend: this.of(modeIds) };
    if (change === 'other') layers[at] = this.layer();
    if (change === 'more' && layers.length < MOST_LAYERS) layers.splice(at, 0, this.layer());
    if (change === 'less' && layers.length > 1) layers.splice(at, 1);
    if (change === 'order') layers.push(...layers.splice(at, 1));
    if (change === 'group' && pair.length > 0) layers.splice(at, pair.length, group(pair, { strength: this.from(0, 1) }));
    return { ...stack, layers, ...(change === 'master' && { master: this.from(0, 1.5) }) };
  }

  order(stack: Stack, { width, height }: Layout): Order {
    const [x, y] = [this.below(width / 2), this.below(height / 2)];
    const [first] = stack.layers;
    return {
      stack,
      format: this.of(['float', 'rgb16', 'rgb8', 'screen'] as const),
      ...(this.is(0.2) && first && { watch: first.id }),
      ...(this.is(0.2) && { area: { x, y, w: 1 + this.below(width - x), h: 1 + this.below(height - y) } }),
    };
  }
}
