import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import sharp from 'sharp';
import { BexlenError, emptyStack, fits, newGroup, newLayer, readStack, type Layer, type Stack } from '@bexlen/core';
import type { Folder } from '../folder';
import type { Readers } from '../images/readers';
import { importPhoto, type Imported } from '../importer';
import type { Db } from '../store/db';
import { forgetOriginal } from '../store/originals';
import { dropPhoto, photoRow } from '../store/photos';
import { newRoll, dropRoll } from '../store/rolls';
import { addVersion } from '../store/versions';
import { readOra, type OraLayer, type OraNode } from './read';

/** An OpenRaster file as a photo with a version: the lowest layer that fills the canvas is the photo, the others are pictures laid over it, each a photo of its own in a roll of the file's name. All or nothing. */
export async function importOra(db: Db, folder: Folder, readers: Readers, file: string, name: string): Promise<Imported> {
  const ora = await readOra(file);
  const taken: string[] = [];
  const rollId = await newRoll(db, name);
  const take = async (bytes: Buffer, called: string): Promise<string> => {
    const { id, known } = await importPhoto(db, folder, readers, Readable.from([bytes]), `${called}.png`, rollId);
    if (!known) taken.push(id);
    return id;
  };
  try {
    const [lowest] = ora.nodes;
    const whole = lowest && 'bytes' in lowest && isPlain(lowest) ? await take(lowest.bytes, name) : undefined;
    const fills = whole !== undefined && sameSize(await photoRow(db, whole), ora);
    const photoId = fills ? whole : await take(await canvas(ora), name);
    const edge = Math.max(ora.width, ora.height);
    const layerOf = async (node: OraNode): Promise<Layer> => {
      const common = { name: node.name, on: node.visible, strength: node.opacity, blend: node.mode };
      const id = `l${randomUUID().slice(0, 18)}`;
      if ('nodes' in node) return { ...newGroup(id, await inTurn(node.nodes, layerOf)), ...common };
      const photo = await photoRow(db, await take(node.bytes, node.name));
      const plain = newLayer('picture', id);
      const middle = (at: number, length: number, all: number): number => (at + length / 2 - all / 2) / edge;
      const params = {
        ...plain.params,
        photo: photo.id,
        x: middle(node.x, photo.width, ora.width),
        y: middle(node.y, photo.height, ora.height),
        size: photo.width / edge,
        aspect: photo.height / photo.width,
      };
      return { ...plain, ...common, params };
    };
    const stack: Stack = { ...emptyStack, layers: await inTurn(fills ? ora.nodes.slice(1) : ora.nodes, layerOf) };
    if (!fits(stack)) throw new BexlenError('too-large', 'It has more layers than a version takes.', 'Merge some of them and write it again.');
    const notes = [...ora.notes, ...(fills ? [] : ['No layer fills the canvas: the pictures lie on white.'])];
    await addVersion(db, photoId, { name: 'Layers', steps: [{ words: `As ${name} has it`, stack: readStack(stack) }], cursor: 0 });
    return { id: photoId, known: false, notes };
  } catch (error) {
    for (const id of taken) await forgetOriginal(folder, await dropPhoto(db, id));
    await dropRoll(db, rollId);
    throw error;
  }
}

interface Size {
  readonly width: number;
  readonly height: number;
}
const isPlain = ({ x, y, opacity, visible, mode }: OraLayer): boolean => x === 0 && y === 0 && opacity === 1 && visible && mode === 'normal';
const sameSize = (a: Size, b: Size): boolean => a.width === b.width && a.height === b.height;

const canvas = ({ width, height }: Size): Promise<Buffer> =>
  sharp({ create: { width, height, channels: 3, background: '#ffffff' }, limitInputPixels: false })
    .png()
    .toBuffer();

async function inTurn<A, B>(all: readonly A[], of: (one: A) => Promise<B>): Promise<B[]> {
  const made: B[] = [];
  for (const one of all) made.push(await of(one));
  return made;
}
