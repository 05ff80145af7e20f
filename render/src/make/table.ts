import { latticePicture, leftWords, namedIn, tableFrom, tableOf, writeCube, type Stack, type TableSize } from '@bexlen/core';
import type { Supplies } from './make';
import type { Workshop } from '../pool/workshop';

/** The text of a .cube file of those layers of a stack that a table can carry: all colours of a lattice, made by the engine. What is left out it says at its head. */
export async function tableText(workshop: Workshop, stack: Stack, title: string, size: TableSize, cube: Supplies['cube']): Promise<string> {
  const tabled = tableOf(stack);
  const { layout, bytes } = latticePicture(size);
  const pool = await workshop.hire();
  try {
    for (const name of namedIn(tabled.stack.layers, 'file')) pool.provide({ type: 'cube', name, cube: await cube(name) });
    await pool.open({ layout, into: (room) => Promise.resolve(room.set(bytes)) });
    const { pixels } = await pool.render(tabled.stack, 'rgb16');
    const text = leftWords(tabled) + writeCube(tableFrom(pixels.slice(), size, title.replace(/"/g, '’')));
    await workshop.takeBack(pool);
    return text;
  } catch (error) {
    await pool.dismiss();
    throw error;
  }
}
