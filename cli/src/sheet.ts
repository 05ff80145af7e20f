import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { longEdge, pictureSize } from '@bexlen/core';
import { sourceAt } from '@bexlen/render/decode/source';
import { make } from '@bexlen/render/make/make';
import { printEdge, writeSheet, type Laid, type Print } from '@bexlen/render/make/print';
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
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-sheet-'));
  try {
    const prints: Print[] = [];
    const total = photos.length * looks.length;
    for (const photo of photos) {
      const source = await sourceAt(photo);
      for (const read of looks) {
        const { stack, name } = read.look;
        const size = pictureSize(stack.geometry, source);
        const file = path.join(folder, `${prints.length}.jpg`);
        const edge = Math.min(longEdge(size), printEdge(laid));
        const work = {
          source,
          stack,
          wish: { format: 'jpeg', quality: 88, gamut: 'srgb' } as const,
          size: edge,
          to: file,
          supplies: suppliesOf(read, source, picture),
        };
        await make(workshop, work, {
          progress: (share) => tell.progress(`${path.basename(photo)}  ${Math.round(((prints.length + share) / total) * 100)} %`),
        });
        prints.push({ file, ...size, name: path.parse(photo).name, line: name });
      }
    }
    tell.progress('');
    await writeSheet(laid, prints, out, fonts);
    tell.say(out);
  } finally {
    await fs.rm(folder, { recursive: true, force: true });
  }
}
