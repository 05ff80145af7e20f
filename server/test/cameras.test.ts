import exifr from 'exifr';
import sharp from 'sharp';
import type { Photo } from '@bexlen/api';
import { asking, order } from './asking';
import { madeDng, type Camera } from './dng';
import { serverForAll, upload } from './server';

const server = serverForAll(64e6);
const { ask, finished } = asking(() => server.address);

const SIDE = 40;
/** Linear sRGB of squares side by side, all within what the sensor holds. */
const SCENE = [
  [0.2, 0.2, 0.2],
  [0.5, 0.1, 0.1],
  [0.1, 0.4, 0.1],
  [0.1, 0.1, 0.5],
  [0.6, 0.6, 0.6],
  [0.6, 0.4, 0.1],
] as const;
const FILLED = 0.9;
const [WIDTH, HEIGHT] = [SIDE * SCENE.length, 2 * SIDE];
const scene = (x: number): readonly [number, number, number] => SCENE[Math.floor(x / SIDE)] ?? [0, 0, 0];
const notes = { make: 'Made', model: 'Made up 12', lens: 'Made 35 mm f/2', seconds: [1, 250] } as const;

const encoded = (v: number): number => 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
/** Linear sRGB as encoded Display P3 (CSS Color Module Level 4). */
const inP3 = ([r, g, b]: readonly [number, number, number]): number[] =>
  [0.8225 * r + 0.1775 * g, 0.0332 * r + 0.9668 * g, 0.0171 * r + 0.0724 * g + 0.9105 * b].map((v) => encoded(FILLED * v));

const jpegOf = async (width: number, height: number) => ({
  jpeg: await sharp({ create: { width, height, channels: 3, background: '#a05030' } })
    .jpeg()
    .toBuffer(),
  width,
  height,
});

describe('files as cameras and phones write them go from import to a finished file, with the notes of camera and lens:', () => {
  it.each([
    ['12 bits, packed, upside down, with corrections of the lens', { bits: 12, orientation: 3, opcodes: true }],
    ['14 bits, packed, from blue on, with matrices for two kinds of light', { bits: 14, pattern: 'BGGR', twoLights: true }],
    ['16 bits, from green on, in tiles, with other levels', { pattern: 'GRBG', tile: 64, black: 1024, white: 15_000 }],
    ['12 bits, lossless JPEG', { bits: 12, compressed: true, pattern: 'GBRG' }],
    ['14 bits, lossless JPEG in tiles, with a frame about the picture', { bits: 14, compressed: true, tile: 64, crop: [10, 8, 200, 60] }],
    ['a small picture first, the raw one below it', { bits: 12, thumbnail: true }],
    ['a small one first, a whole one behind, the raw one below', { bits: 14, compressed: true, thumbnail: true, preview: true }],
    ['three samples a pixel', { linear: true }],
    ['three samples a pixel, lossless JPEG in tiles', { linear: true, compressed: true, tile: 64 }],
    [
      'a camera that sees other colours',
      {
        sees: [
          [0.7, 0.25, 0.05],
          [0.2, 0.65, 0.15],
          [0.05, 0.25, 0.7],
        ],
      },
    ],
    ['on its side, framed', { orientation: 6, crop: [10, 8, 200, 60] }],
  ] as const satisfies [string, Omit<Camera, 'thumbnail' | 'preview'> & { thumbnail?: true; preview?: true }][])('%s', async (name, how) => {
    const { thumbnail, preview, ...rest } = { thumbnail: undefined, preview: undefined, ...how };
    const camera: Camera = {
      ...rest,
      notes,
      ...(thumbnail && { thumbnail: await jpegOf(80, 60) }),
      ...(preview && { preview: await jpegOf(WIDTH, HEIGHT) }),
    };
    const bytes = madeDng(WIDTH, HEIGHT, scene, FILLED, camera);
    const { crop = [0, 0, WIDTH, HEIGHT], orientation = 1 } = camera;
    const [left, , across, down] = crop;
    const lying = orientation === 6;
    const { status, body } = await upload(server.address, bytes, `${name.replace(/\W/g, '-')}.dng`);
    const photo = body['photo'] as unknown as Photo;
    expect([status, photo]).toMatchObject([201, { format: 'DNG', width: lying ? down : across, height: lying ? across : down }]);
    const made = await order(ask, { versionId: photo.versions[0]?.id, format: 'jpeg', quality: 100, metadata: 'keep' });
    const { job, bytes: file } = await finished(made.body);
    expect([job.fault?.message, job.notes]).toEqual([undefined, []]);
    expect(await exifr.parse(file)).toMatchObject({
      Make: 'Made',
      Model: 'Made up 12',
      LensModel: 'Made 35 mm f/2',
      ExposureTime: 1 / 250,
      ISO: 400,
    });
    const { data, info } = await sharp(file, { ignoreIcc: true }).raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([photo.width, photo.height]);
    SCENE.forEach((light, i) => {
      const x = i * SIDE + SIDE / 2 - left;
      if (x < 0 || x >= across) return;
      const y = down / 2;
      const [u, v] = orientation === 3 ? [across - 1 - x, down - 1 - y] : lying ? [down - 1 - y, x] : [x, y];
      const seen = [0, 1, 2].map((c) => data[(v * info.width + u) * 3 + c] as number);
      const off = inP3(light).map((value, c) => Math.abs(value - (seen[c] as number)));
      expect([i, ...off.map((v) => (v < 6 ? 0 : Math.round(v)))]).toEqual([i, 0, 0, 0]);
    });
  });

  it('what no picture can be made of is refused in a sentence', async () => {
    for (const [name, camera] of [
      ['neutral', { neutral: [0, 0, 0] }],
      [
        'matrix',
        {
          matrix: [
            [0, 0, 0],
            [0, 0, 0],
            [0, 0, 0],
          ],
        },
      ],
      ['levels', { black: 16_383, white: 512 }],
    ] as const) {
      const { status, body } = await upload(server.address, madeDng(WIDTH, HEIGHT, scene, FILLED, camera), `${name}.dng`);
      expect([name, status, body.message]).toEqual([name, 415, `${name}.dng is damaged, or of a camera that is not known here.`]);
    }
  });
});
