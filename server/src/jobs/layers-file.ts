import fs from 'node:fs';
import { pipeline } from 'node:stream/promises';
import sharp from 'sharp';
import { allLayers, asksFor, emptyMask, isEffective, isLevel, openGate, rows, type Layer, type Stack } from '@bexlen/core';
import type { Packed } from '@bexlen/render/files/zips';
import { writeZip } from '@bexlen/render/files/zips';
import { encoded } from '@bexlen/render/encode/encode';
import { operatorOf } from '../ora/modes';
import { pixelsOf, type Supplies, type Wanted, type Watch } from '@bexlen/render/make/make';
import type { Workshop } from '@bexlen/render/pool/workshop';

interface LayersWork {
  readonly source: Wanted['source'];
  readonly stack: Stack;
  readonly supplies: Supplies;
  readonly to: string;
}

/** A layer as another program lays it over those below. */
interface Sheet {
  readonly name: string;
  readonly operator: string;
  readonly opacity: number;
  /** The picture that gives its pixels. */
  readonly picture: Stack;
  /** Whose mask, in that picture, gives its alpha. */
  readonly mask?: string;
}
type Node = Sheet | { readonly name: string; readonly nodes: readonly Node[] };

const THUMB = 256;
const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

/**
 * A version as an OpenRaster file (Baseline Intent 0.0.5): the photo, each live layer's result as a layer with its name, mode and strength, the merged picture and
 * a small one. What the file cannot say, such as a gate or a mode of our own, is in the pixels of the layer, which then lies over the others plainly. Returns the bytes written.
 */
export async function makeLayers(workshop: Workshop, { source, stack, supplies, to }: LayersWork, watch: Watch = {}): Promise<number> {
  const nodes = nodesOf(stack);
  const total = sheetsIn(nodes).length + 2;
  let done = 0;
  const picture = async (of: Stack, mask?: string): Promise<{ png: Buffer; width: number; height: number }> => {
    const share = (part: number): void => watch.progress?.((done + part) / total);
    const part = { ...(watch.signal && { signal: watch.signal }), progress: share };
    const work = { source, supplies, stack: of };
    const colours = await pixelsOf(workshop, work, source.alpha || mask !== undefined ? 'rgba8' : 'rgb8', undefined, part);
    if (mask !== undefined) withAlpha(colours.pixels, (await pixelsOf(workshop, work, 'rgb8', mask, part)).pixels);
    done++;
    const layout = { width: colours.width, height: colours.height, depth: 8, channels: source.alpha || mask !== undefined ? 4 : 3 } as const;
    return { png: Buffer.concat(await encoded(colours.pixels, layout, { format: 'png' })), width: colours.width, height: colours.height };
  };
  const files: Packed[] = [{ name: 'mimetype', from: Buffer.from('image/openraster'), stored: true }];
  const add = (name: string, from: Buffer): string => {
    files.push({ name, from, stored: true });
    return name;
  };
  const photo = await picture({ ...stack, layers: [], master: 1 });
  const write = async (node: Node, indent: string): Promise<string> => {
    if ('nodes' in node) {
      const inside: string[] = [];
      for (const each of node.nodes) inside.unshift(await write(each, `${indent}  `));
      return `${indent}<stack name="${escaped(node.name)}">\n${inside.join('')}${indent}</stack>\n`;
    }
    const { png } = await picture(node.picture, node.mask);
    const src = add(`data/layer${files.length}.png`, png);
    return `${indent}<layer name="${escaped(node.name)}" src="${src}" x="0" y="0" opacity="${node.opacity}" visibility="visible" composite-op="${node.operator}"/>\n`;
  };
  const lines: string[] = [];
  add('data/photo.png', photo.png);
  for (const node of nodes) lines.unshift(await write(node, '    '));
  const xml = `<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.5" w="${photo.width}" h="${photo.height}">\n  <stack>\n${lines.join('')}    <layer name="Photo" src="data/photo.png" x="0" y="0"/>\n  </stack>\n</image>\n`;
  const merged = (await picture(stack)).png;
  files.splice(1, 0, { name: 'stack.xml', from: Buffer.from(xml) });
  add('mergedimage.png', merged);
  add('Thumbnails/thumbnail.png', await sharp(merged, { limitInputPixels: false }).resize(THUMB, THUMB, { fit: 'inside' }).png().toBuffer());
  await pipeline(writeZip(files), fs.createWriteStream(to));
  return (await fs.promises.stat(to)).size;
}

function withAlpha(rgba: Uint8Array, greys: Uint8Array): void {
  for (let i = 0; 4 * i < rgba.length; i++) rgba[4 * i + 3] = Math.round(((rgba[4 * i + 3] as number) * (greys[3 * i] as number)) / 255);
}

const sheetsIn = (nodes: readonly Node[]): Sheet[] => nodes.flatMap((node) => ('nodes' in node ? sheetsIn(node.nodes) : [node]));

/** The live layers of a stack, the first one first; a master that is not whole comes last, as the finished picture. */
function nodesOf(stack: Stack): Node[] {
  const whole = { ...stack, master: 1 };
  const nodes = stack.layers.flatMap((layer) => nodeOf(whole, layer));
  if (stack.master === 1 || nodes.length === 0) return nodes;
  return [...nodes, { name: `Master ${Math.round(stack.master * 100)} %`, operator: 'svg:src-over', opacity: 1, picture: stack }];
}

function nodeOf(stack: Stack, layer: Layer): Node[] {
  if (!layer.on || layer.strength === 0) return [];
  const open = isLevel(layer.gate.own) && isLevel(layer.gate.beneath);
  const masked = isEffective(layer.mask);
  const { name } = layer;
  if (layer.kind === 'group' && open && !masked && layer.strength === 1 && layer.blend === 'normal' && layer.reads === 'below')
    return [{ name, nodes: layer.layers.flatMap((inner) => nodeOf(stack, inner)) }];
  const operator = operatorOf(layer.blend);
  const says =
    operator !== undefined && open && !layer.masked && layer.kind !== 'group' && allLayers([layer]).every((each) => !asksFor(each, 'photo'));
  if (!says) return [{ name, operator: 'svg:src-over', opacity: layer.strength, picture: upTo(stack, layer, { strength: 1 }) }];
  const plain = { strength: 1, blend: 'normal' as const, gate: openGate };
  if (!masked) return [{ name, operator, opacity: layer.strength, picture: upTo(stack, layer, plain) }];
  // The mask stands in a layer of its own that is switched off, so that it can be asked for while the pixels come without it.
  return [{ name, operator, opacity: layer.strength, picture: upTo(stack, layer, { ...plain, mask: emptyMask }, layer), mask: maskOf(layer) }];
}

const maskOf = (layer: Layer): string => `${layer.id}-mask`.slice(-40);

/** The stack up to a layer, which is changed; what comes after is switched off. `masked` keeps its mask in a layer that is off. */
function upTo(stack: Stack, layer: Layer, change: Partial<Layer>, masked?: Layer): Stack {
  const order = rows(stack.layers).map(({ layer: { id } }) => id);
  const last = order.indexOf(layer.id);
  const inside = new Set(rows(layer.layers ?? []).map(({ layer: { id } }) => id));
  const walk = (layers: readonly Layer[]): Layer[] =>
    layers.flatMap((it): Layer[] => {
      if (it.id === layer.id) {
        const changed = { ...it, ...change } as Layer;
        return masked ? [{ ...masked, id: maskOf(masked), on: false, ...(masked.layers && { layers: [] }) } as Layer, changed] : [changed];
      }
      const after = order.indexOf(it.id) > last && !inside.has(it.id);
      if (after) return [{ ...it, on: false }];
      return [it.layers ? ({ ...it, layers: walk(it.layers) } as Layer) : it];
    });
  return { ...stack, layers: walk(stack.layers) };
}
