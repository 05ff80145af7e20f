import { filmPlaceOf } from '../geometry/shape';
import { emptyMask, type Mask } from '../masks/mask';
import type { Layout } from '../pixels/picture';
import { compile } from '../stack/compile';
import { ValueNumbers, type Step } from '../stack/program';
import { emptyStack, type Layer, type Stack } from '../stack/schema';
import { opOf } from '../expressions/ops';
import type { Cube } from './cube';

/** Entries along a side of a table that is written. */
export const TABLE_SIZES = [17, 33, 65] as const;
export type TableSize = (typeof TABLE_SIZES)[number];

/** What of a stack a colour table can carry: the stack with all else switched off, and what that is, with the reason. */
export interface Tabled {
  readonly stack: Stack;
  readonly left: readonly { readonly name: string; readonly why: string }[];
}

const PLACE = filmPlaceOf({ width: 300, height: 200 });

/** A table knows the colour of a pixel and nothing else: not its neighbours, not its place. */
export function tableOf(stack: Stack): Tabled {
  const left: { name: string; why: string }[] = [];
  const walk = (layers: readonly Layer[]): Layer[] =>
    layers.map((layer) => {
      if (!layer.on || layer.strength === 0) return layer;
      const inside = layer.kind === 'group' ? { ...layer, layers: [] } : layer;
      const why = reasonOf(inside);
      if (why) {
        left.push({ name: layer.name, why });
        return { ...layer, on: false };
      }
      return layer.kind === 'group' ? { ...layer, layers: walk(layer.layers) } : layer;
    });
  return { stack: { ...stack, layers: walk(stack.layers) }, left };
}

/** Why a table cannot carry a layer; nothing, if it can. */
function reasonOf(layer: Layer): string | undefined {
  const alone = stepsOf(layer, emptyMask);
  if (alone.some((step) => step.do === 'picture') || (layer.kind === 'picture' && layer.params['photo'] !== '')) return 'it shows another photo';
  if (alone.some((step) => step.do === 'blur')) return 'it looks at what is around a place';
  if (alone.some(dependsOnPlace)) return 'it is not the same everywhere';
  const { mask } = layer;
  const links = mask.parts.some(({ part }) => part === 'same-as');
  const masked = stepsOf(layer, links ? emptyMask : mask);
  if (links || masked.some((step) => step.do === 'blur' || dependsOnPlace(step))) return 'its mask lies on a place';
  return undefined;
}

const dependsOnPlace = (step: Step): boolean => step.do === 'point' && opOf(step.op).placed === true;

/** The steps of a layer alone, with some things about it changed. A group without layers, and a table, which is not at hand everywhere, have a fill in their place. */
function stepsOf(layer: Layer, mask: Mask): readonly Step[] {
  const plain = { ...layer, mask, on: true, strength: 1 } as Layer;
  const shown: Layer =
    layer.kind === 'group' || layer.kind === 'cube'
      ? ({ ...plain, kind: 'fill', params: { hue: 60, amount: 0, lightness: 0.5 }, layers: undefined } as never)
      : plain;
  return compile({ ...emptyStack, layers: [shown] }, PLACE, new ValueNumbers()).steps;
}

/** A picture of all colours of a lattice, red changing fastest: opaque, 16 bits, a row for each blue. */
export function latticePicture(size: TableSize): { readonly layout: Layout; readonly bytes: Uint8Array } {
  const values = new Uint16Array(3 * size ** 3);
  const at = (i: number): number => Math.round((65535 * i) / (size - 1));
  for (let i = 0; i < size ** 3; i++) {
    values[3 * i] = at(i % size);
    values[3 * i + 1] = at(Math.floor(i / size) % size);
    values[3 * i + 2] = at(Math.floor(i / size ** 2));
  }
  return { layout: { width: size ** 2, height: size, channels: 3, depth: 16 }, bytes: new Uint8Array(values.buffer) };
}

/** The table of a picture that was made of `latticePicture`, of 16 bits. */
export function tableFrom(pixels: Uint8Array, size: TableSize, title: string): Cube {
  const values = new Uint16Array(pixels.buffer, pixels.byteOffset, 3 * size ** 3);
  return { title, dimensions: 3, size, least: [0, 0, 0], most: [1, 1, 1], values: Float32Array.from(values, (v) => v / 65535) };
}

/** Which layers a table leaves out, as comments that its file begins with. */
export const leftWords = ({ left }: Tabled): string =>
  left.map(({ name, why }) => `# Not in this table: ${name.replace(/\s+/g, ' ')}, since ${why}.\n`).join('');
