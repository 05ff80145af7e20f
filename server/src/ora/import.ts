import { randomUUID } from 'node:crypto';
import fs from 'node:fs/promises';
import path from 'node:path';
import { BexlenError, emptyStack, fits, newGroup, newLayer, readStack, type Layer, type Stack } from '@bexlen/core';
import type { Folder } from '../folder';
import type { Decoders } from '../decoders/decoders';
import { importPhoto, type Imported } from '../importer';
import type { Db } from '../store/db';
import { forgetOriginal } from '../store/originals';
import { dropPhoto, photoRow } from '../store/photos';
import { newRoll, dropRoll } from '../store/rolls';
import { addVersion } from '../store/versions';
import type { Ora, OraNode } from './read';

/** An OpenRaster file as a photo with a version: the lowest layer that fills the canvas is the photo, the others are pictures laid over it, each a photo of its own in a roll of the file's name. All or nothing. */
export async function importOra(db: Db, folder: Folder, decoders: Decoders, file: string, name: string): Promise<Imported> {
  const unpacked = path.join(folder.unfinished, `layers-${randomUUID()}`);
  await fs.mkdir(unpacked);
  try {
    return await take(db, folder, decoders, await decoders.layers(file, unpacked), name);
  } finally {
    await fs.rm(unpacked, { recursive: true, force: true });
  }
}

async function take(db: Db, folder: Folder, decoders: Decoders, ora: Ora, name: string): Promise<Imported> {
  const taken: string[] = [];
  const rollId = await newRoll(db, name);
  const photoOf = async (picture: string, called: string): Promise<string> => {
    const { id, known } = await importPhoto(db, folder, decoders, picture, `${called}.png`, rollId);
    if (!known) taken.push(id);
    return id;
  };
  try {
    const { canvas, nodes } = ora;
    const [lowest] = nodes;
    const ground = canvas ?? (lowest && 'file' in lowest ? lowest.file : undefined);
    if (ground === undefined) throw new Error('a file of layers has neither a canvas nor a lowest picture');
    const photoId = await photoOf(ground, name);
    const edge = Math.max(ora.width, ora.height);
    const layerOf = async (node: OraNode): Promise<Layer> => {
      const common = { name: node.name, on: node.visible, strength: node.opacity, blend: node.mode };
      const id = `l${randomUUID().slice(0, 18)}`;
      if ('nodes' in node) return { ...newGroup(id, await inTurn(node.nodes, layerOf)), ...common };
      const photo = await photoRow(db, await photoOf(node.file, node.name));
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
    const stack: Stack = { ...emptyStack, layers: await inTurn(canvas === undefined ? nodes.slice(1) : nodes, layerOf) };
    if (!fits(stack)) throw new BexlenError('too-large', 'It has more layers than a version takes.', 'Merge some of them and write it again.');
    const notes = [...ora.notes, ...(canvas === undefined ? [] : ['No layer fills the canvas: the pictures lie on white.'])];
    await addVersion(db, photoId, { name: 'Layers', steps: [{ words: `As ${name} has it`, stack: readStack(stack) }], cursor: 0 });
    return { id: photoId, known: false, notes };
  } catch (error) {
    for (const id of taken) await forgetOriginal(folder, await dropPhoto(db, id));
    await dropRoll(db, rollId);
    throw error;
  }
}

async function inTurn<A, B>(all: readonly A[], of: (one: A) => Promise<B>): Promise<B[]> {
  const made: B[] = [];
  for (const one of all) made.push(await of(one));
  return made;
}
