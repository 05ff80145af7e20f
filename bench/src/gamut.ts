import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { profileOf, withJpegProfile } from '@bexlen/render/decode/profile';
import { Workshop } from '@bexlen/render/pool/workshop';
import { exportFile } from './exports';
import { report, side } from './timing';
import { files, orton, photo } from './work';

/** The Orton stack at 24 megapixels, JPEG to JPEG: a photo in Display P3 beside the same bytes in sRGB. */
export async function benchGamut(rounds: number): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const [narrow, wide] = [path.join(folder, 'srgb.jpg'), path.join(folder, 'p3.jpg')];
  const jpeg = await sharp(photo).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 92 }).toBuffer();
  await fs.writeFile(narrow, jpeg);
  await fs.writeFile(wide, Buffer.concat(withJpegProfile(jpeg, await profileOf('display-p3'))));
  const stack = orton(30, 6000);
  const workshop = new Workshop(files, 1);
  let made = 0;
  const next = (): string => path.join(folder, `${++made}.jpg`);
  const { inP3, inSrgb } = await side(rounds, {
    inP3: () => exportFile(wide, stack, workshop, next(), [], 'display-p3'),
    inSrgb: () => exportFile(narrow, stack, workshop, next()),
  });
  report('Orton, 24 MP, in Display P3, beside sRGB', inP3, inSrgb, 1.05, 24);
  await workshop.close();
  await fs.rm(folder, { recursive: true });
}
