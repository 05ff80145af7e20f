import path from 'node:path';
import sharp from 'sharp';
import { emptyStack, newLayer } from '@bexlen/core';
import { decode, decodeFitted, here } from '@bexlen/render/decode/decode';
import { Workshop } from '@bexlen/render/pool/workshop';
import { shareUnder, smoothPlaces, stepsOf, tonesOf } from '../src/proofs/steps';

const root = path.join(import.meta.dirname, '../..');
const workshop = new Workshop({ worker: path.join(root, 'build/worker.mjs'), kernels: path.join(root, 'build/kernels.wasm') }, 2);
afterAll(() => workshop.close());

const BLACK = 3;
const MOST = 0.01;

it.each([
  'dunes',
  'gorge-falls',
  'lantern-lane',
  'orchard-avenue',
  'puppet-portrait',
  'rehearsal-window',
  'rooftops-above',
  'tower-path',
  'workbench',
])('haze that is cleared wholly does not crush the shade of %s', async (name) => {
  const photo = await decodeFitted({ file: path.join(root, 'demo', `${name}.jpg`), depth: 8, alpha: false }, 800);
  const { width, height } = photo.layout;
  const seen = {
    width,
    height,
    data: await sharp(photo.pixels, { raw: { width, height, channels: 3 } })
      .ensureAlpha()
      .raw()
      .toBuffer(),
  };
  const found = newLayer('haze', 'haze', seen);
  const pool = await workshop.hire();
  for (const air of [found.params['air'] as number, 1]) {
    await pool.open(here(photo));
    const layer = { ...found, params: { ...found.params, air, clear: 1 } };
    const { pixels } = await pool.render({ ...emptyStack, layers: [layer] }, 'rgb8');
    const [before, after] = [photo.pixels, pixels].map((bytes) => shareUnder(tonesOf(width, height, bytes), BLACK)) as [number, number];
    expect(after - before).toBeLessThan(MOST);
    // It does something all the same.
    expect(Buffer.compare(Buffer.from(pixels), Buffer.from(photo.pixels))).not.toBe(0);
  }
  await workshop.takeBack(pool);
});

it.each(['tower-path', 'rehearsal-window'])('haze that is cleared wholly lifts no noise and no blocks of the JPEG of %s', async (name) => {
  const photo = await decode({ file: path.join(root, 'demo', `${name}.jpg`), depth: 8, alpha: false });
  const { width, height } = photo.layout;
  const smooth = smoothPlaces(tonesOf(width, height, photo.pixels));
  const pool = await workshop.hire();
  await pool.open(here(photo));
  const { pixels } = await pool.render({ ...emptyStack, layers: [{ ...newLayer('haze', 'haze'), params: { clear: 1, air: 0.9 } }] }, 'rgb8');
  const { share } = stepsOf(smooth, tonesOf(width, height, pixels), { width: 300, height: 200 });
  expect(share).toBeLessThan(2e-4);
  await workshop.takeBack(pool);
});
