import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { emptyMask, nameOf, newPart, traceOf, type Mask, type PartId, type Painted, type Stack } from '@bexlen/core';
import { Workshop } from '@bexlen/render/pool/workshop';
import { exportFile } from './exports';
import { report, side } from './timing';
import { files, layer, newEngine, photo, pixelsOf, resources, stackOf } from './work';

const part = (id: PartId, i: number) => {
  const made = newPart(id, `p${i}`, i % 3 === 2 ? 'take' : 'add');
  return { ...made, params: { ...made.params, x: ((i * 0.37) % 1) - 0.5, y: ((i * 0.61) % 0.6) - 0.3 } };
};
const maskOf = (...ids: PartId[]): Mask => ({ ...emptyMask, parts: ids.map(part) });

/** Six layers such as a finished picture has, masked or not. */
const six = (masks: readonly (Mask | undefined)[], strength = 1): Stack => {
  const kinds = ['exposure', 'tone', 'curves', 'saturation', 'local-contrast', 'exposure'] as const;
  return stackOf(...kinds.map((kind, i) => layer(kind, { mask: masks[i] ?? emptyMask, ...(i === 5 && { strength }) })));
};
const analytic = [maskOf('oval'), maskOf('band', 'oval'), maskOf('ramp'), maskOf('oval', 'band'), maskOf('ramp'), maskOf('oval')];

/** Strokes at random over the whole picture, as broad as hands paint. */
export function painting(strokes: number, points: number): { name: string; all: Painted[] } {
  let seed = 7;
  const next = (): number => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const all: Painted[] = [];
  let name = '';
  for (let i = 0; i < strokes; i++) {
    const [x, y, way] = [next() - 0.5, next() * 0.66 - 0.33, next() * 6.3];
    const trace = traceOf(
      Array.from({ length: points }, (_, k) => ({ x: x + 0.005 * k * Math.cos(way), y: y + 0.005 * k * Math.sin(way), pressure: 1, ms: 8 * k })),
    );
    const painted = {
      after: name,
      stroke: { size: 0.01 + 0.03 * next(), softness: 0.6, flow: 0.5, erase: i % 5 === 4, pressure: 'none' as const, trace },
    };
    name = nameOf(painted);
    resources.strokes.set(name, painted);
    all.push(painted);
  }
  return { name, all };
}
const brushed = (name: string): Mask => ({ ...emptyMask, parts: [{ ...newPart('brush', 'b'), params: { strokes: name } }] });

/** Files of 24 megapixels with masks against the same without; a fader under a masked layer against a plain one. */
export async function benchMasks(rounds: number): Promise<void> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-bench-'));
  const workshop = new Workshop(files, 2);
  const large = path.join(folder, 'large.jpg');
  await sharp(photo).resize(6000, 4000, { fit: 'fill' }).jpeg({ quality: 92, chromaSubsampling: '4:4:4' }).toFile(large);
  const { name, all } = painting(500, 40);
  const to = (file: string): string => path.join(folder, file);
  const times = await side(rounds, {
    plain: () => exportFile(large, six([]), workshop, to('plain.jpg')),
    masked: () => exportFile(large, six(analytic), workshop, to('masked.jpg')),
    painted: () => exportFile(large, six([undefined, brushed(name)]), workshop, to('painted.jpg'), all),
  });
  report('file, 24 MP, 6 layers, 8 analytic parts, no masks', times.masked, times.plain, 1.25, 24);
  report('file, 24 MP, 6 layers, 500 strokes, no masks', times.painted, times.plain, 1.5, 24);
  await workshop.close();
  await fs.rm(folder, { recursive: true });

  const size = { width: 1536, height: 1024 };
  const pixels = await pixelsOf(size.width, size.height);
  const engines = { plain: await newEngine(64e6), masked: await newEngine(64e6) };
  for (const engine of Object.values(engines)) engine.open({ ...size, depth: 8, channels: 3 }).set(pixels);
  let count = 0;
  const frame = (engine: keyof typeof engines, masks: readonly Mask[]) => () =>
    engines[engine].render({ stack: six(masks, 0.3 + (0.6 * (++count % 97)) / 97), format: 'screen' });
  const [plain, masked] = [frame('plain', []), frame('masked', analytic)];
  for (let i = 0; i < 4; i++) [plain, masked].forEach((run) => run());
  const drag = await side(rounds * 4, { plain, masked });
  report('fader drag, 1.5 MP, under a mask, without', drag.masked, drag.plain, 1.3, 1.57);
}
