import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { Workshop } from '@bexlen/render/pool/workshop';
import { exportFile } from './exports';
import { report, side } from './timing';
import { files, layer, photo, stackOf } from './work';

/** What spreads light, with its radius as sharp's blur is told it. */
const SPREADING = [
  { kind: 'glow', params: { radius: 0.012 }, sigma: 72 },
  { kind: 'bloom', params: { radius: 0.015 }, sigma: 90 },
  { kind: 'halation', params: { size: 220 }, sigma: 37 },
  { kind: 'soft-focus', params: { radius: 0.008 }, sigma: 48 },
] as const;

/** Files of 24 megapixels in which light spreads, against sharp's own blur of the same deviation and one composite. */
export async function benchLight(rounds: number): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const workshop = new Workshop(files, 2);
  sharp.concurrency(2);
  const large = path.join(folder, 'large.jpg');
  await sharp(photo).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toFile(large);
  for (const { kind, params, sigma } of SPREADING) {
    const { ours, bySharp } = await side(rounds, {
      ours: () => exportFile(large, stackOf(layer(kind, { params: params as never })), workshop, path.join(folder, 'ours.jpg')),
      bySharp: async () => {
        const { data, info } = await sharp(large).raw().toBuffer({ resolveWithObject: true });
        const raw = { width: info.width, height: info.height, channels: 3 } as const;
        const soft = await sharp(data, { raw }).blur(sigma).raw().toBuffer();
        await sharp(data, { raw })
          .composite([{ input: soft, raw, blend: 'screen' }])
          .jpeg({ quality: 92, chromaSubsampling: '4:4:4' })
          .toFile(path.join(folder, 'sharp.jpg'));
      },
    });
    report(`${kind}, 24 MP, file, sharp's blur and composite`, ours, bySharp, 0.5, 24);
  }
  await workshop.close();
  await fs.rm(folder, { recursive: true });
}
