import { worst } from '../../test/engine';
import { layer, newEngine, stackOf } from '../../test/kernels';

describe('a photo without alpha', () => {
  // Its bytes go along parabolas, and its small images are RGB rows.
  it.each([
    ['multiply', 8],
    ['screen', 8],
    ['exclusion', 8],
    ['multiply', 16],
    ['soft-light', 8],
  ] as const)('gives what it gives with alpha 1, to a step of 16 bits: a glow in %s, %d bits', async (blend, depth) => {
    const size = { width: 403, height: 301, depth } as const;
    const glow = stackOf(layer('tone', {}, { blend: 'screen', strength: 0.9 }), layer('blur', { radius: 0.03 }, { blend, strength: 0.6 }));
    const made = async (channels: 3 | 4): Promise<Float32Array> => {
      const engine = await newEngine();
      const bytes = engine.open({ ...size, channels });
      const samples = depth === 8 ? bytes : new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2);
      const top = 2 ** depth - 1;
      for (let i = 0; i < size.width * size.height; i++) {
        for (let c = 0; c < 3; c++) samples[channels * i + c] = (top * (1 + Math.sin(i / 900 + c) * Math.cos(((i % size.width) + c) / 40))) / 2;
        if (channels === 4) samples[4 * i + 3] = top;
      }
      const { pixels } = engine.render({ stack: glow, format: channels === 3 ? 'rgb16' : 'rgba16' }) ?? { pixels: new Uint8Array() };
      return Float32Array.from(new Uint16Array(pixels.slice().buffer)).filter((_, i) => channels === 3 || i % 4 < 3);
    };
    const [opaque, clear] = [await made(3), await made(4)];
    expect(opaque).toHaveLength(3 * size.width * size.height);
    expect(worst(opaque, clear)).toBeLessThanOrEqual(1);
  });
});
