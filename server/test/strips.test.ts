import sharp from 'sharp';
import { encodeJpeg, JpegStrips, stripsFit } from '@bexlen/render/encode/strips';
import type { JpegWish } from '@bexlen/render/decode/turbo';

const [width, height] = [333, 217];
const pixels = new Uint8Array(width * height * 3).map((_, i) => 128 + 90 * Math.sin(i / 70) + ((i * 7919) % 31));
const decoded = (jpeg: Buffer): Promise<Buffer> => sharp(jpeg).raw().toBuffer();

describe('a JPEG put together of strips', () => {
  it.each<JpegWish>([
    { quality: 95, sampling: '4:4:4' },
    { quality: 70, sampling: '4:2:0' },
  ])('has the pixels of one that was encoded whole: $sampling', async (wish) => {
    for (const rows of [16, 64, 208]) {
      const strips = new JpegStrips(wish, width, height, rows);
      const count = Math.ceil(height / rows);
      for (let i = count - 1; i >= 0; i--) strips.add(i, pixels);
      const joined = Buffer.concat(await strips.join());
      expect(await sharp(joined).metadata()).toMatchObject({ width, height, format: 'jpeg' });
      const [whole, made] = [await decoded(await encodeJpeg(pixels, width, wish)), await decoded(joined)];
      expect(Buffer.compare(made, whole)).toBe(0);
    }
  });

  it('is refused while a strip is missing', async () => {
    const strips = new JpegStrips({ quality: 90, sampling: '4:4:4' }, width, height, 64);
    strips.add(0, pixels);
    await expect(strips.join()).rejects.toThrow('missing');
  });

  it('is possible up to the blocks that a restart interval can count', () => {
    expect(stripsFit({ quality: 90, sampling: '4:4:4' }, 16376, 256)).toBe(true);
    expect(stripsFit({ quality: 90, sampling: '4:4:4' }, 16384, 256)).toBe(false);
    expect(stripsFit({ quality: 80, sampling: '4:2:0' }, 60000, 256)).toBe(true);
  });
});
