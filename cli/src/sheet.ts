import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { pictureSize } from '@bexlen/core';
import { sourceAt } from '@bexlen/render/decode/source';
import { printed, type Cell, type Laid } from '@bexlen/render/make/print';
import type { Workshop } from '@bexlen/render/pool/workshop';
import { suppliesOf, type Read } from './looks';
import type { Telling } from './render';

interface SheetOrder extends Laid {
  readonly photos: readonly string[];
  /** Each photo with each of them. */
  readonly looks: readonly Read[];
  readonly picture: string | undefined;
  readonly out: string;
  readonly fonts: string;
}

/** Lays photos with looks out on a contact sheet. Nothing is written unless all of it can be made. */
export async function printSheet({ photos, looks, picture, out, fonts, ...laid }: SheetOrder, workshop: Workshop, tell: Telling): Promise<void> {
  const cells: Cell[] = [];
  for (const photo of photos) {
    const source = await sourceAt(photo);
    for (const read of looks) {
      const { stack, name: line } = read.look;
      const work = { source, stack, supplies: suppliesOf(read, source, picture) };
      cells.push({ work, ...pictureSize(stack.geometry, source), name: path.parse(photo).name, line });
    }
  }
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-sheet-'));
  const progress = (share: number, i: number): void => tell.progress(`${cells[i]?.name ?? ''}  ${Math.round(share * 100)} %`);
  try {
    await printed(workshop, laid, cells, out, { folder, fonts, watch: { progress } });
    tell.progress('');
    tell.say(out);
  } finally {
    await fs.rm(folder, { recursive: true, force: true });
  }
}
