import { createHash } from 'node:crypto';
import fs from 'node:fs/promises';
import { BexlenError, fileLabel, echoed, type Cube } from '@bexlen/core';
import type { Folder } from '../folder';
import type { Checks } from '../http/checks';
import { keepBytes } from './originals';

const keyOf = (id: string): string => `cubes/${id}.cube`;
const ID = /^[0-9a-f]{24}$/;
const NAME_LENGTH = 120;

/** Keeps the text of a .cube file, which was checked, by its content. Gives the name by which layers know it. */
export async function keepCube(folder: Folder, text: string, fileName: string): Promise<string> {
  const id = createHash('sha256').update(text).digest('hex').slice(0, 24);
  await keepBytes(folder, keyOf(id), Buffer.from(text));
  return `${id}:${fileName.slice(-NAME_LENGTH)}`;
}

/** The text of a cube by its name. Throws `not-found`. */
export async function cubeText(folder: Folder, name: string): Promise<string> {
  const [id = ''] = name.split(':');
  const missing = (): never => {
    throw new BexlenError('not-found', `The cube file “${echoed(fileLabel(name))}” is not kept here.`, 'Choose the file again in its layer.');
  };
  if (!ID.test(id)) return missing();
  const file = await folder.objects.file(keyOf(id));
  return file === undefined ? missing() : fs.readFile(file, 'utf8').catch(missing);
}

export const loadCube = async (folder: Folder, checks: Checks, name: string): Promise<Cube> => checks.cube(await cubeText(folder, name));
