import { layer, newEngine, orton, pixelsOf, stackOf } from './work';
import { report, side } from './timing';

const SIZE = { width: 1536, height: 1024 };

/** Twelve layers of many makes: tones, colours, two blurs. */
export const twelve = () => [
  layer('exposure', { params: { stops: 0.2, offset: 0, contrast: 0.1 } }),
  layer('curves', {
    strength: 0.8,
    gate: {
      own: {
        shape: 'smooth',
        nodes: [
          [0, 0.2],
          [1, 1],
        ],
      },
      beneath: {
        shape: 'smooth',
        nodes: [
          [0, 1],
          [1, 0.5],
        ],
      },
    },
  }),
  layer('hue-bands'),
  layer('white-balance', { params: { warmth: 0.3, tint: 0 } }),
  layer('blur', { blend: 'soft-light', strength: 0.4 }),
  layer('saturation', { params: { amount: 0.2, protect: 0.5 } }),
  layer('grade'),
  layer('levels', { blend: 'luminosity', strength: 0.7 }),
  layer('bleach-bypass', { strength: 0.3 }),
  layer('blur', { blend: 'screen', strength: 0.2 }),
  layer('toning', { strength: 0.3 }),
  layer('grain'),
];

/** A fader drag over twelve layers: each frame has another strength of one layer, against all twelve made anew. */
export async function benchDrag(rounds: number): Promise<void> {
  const pixels = await pixelsOf(SIZE.width, SIZE.height);
  const [kept, fresh] = [await newEngine(64e6), await newEngine(64e6)];
  kept.open({ ...SIZE, depth: 8, channels: 3 }).set(pixels);
  const layers = twelve();
  let count = 0;
  for (const [name, index, target] of [
    ['last', 11, 0.15],
    ['middle', 6, 0.5],
    ['first', 0, 1],
  ] as const) {
    const moved = () => stackOf(...layers.map((it, i) => (i === index ? { ...it, strength: 0.3 + (0.6 * (++count % 97)) / 97 } : it)));
    for (let i = 0; i < 3; i++) kept.render({ stack: moved(), format: 'screen' });
    const { ours, whole } = await side(rounds * 3, {
      ours: () => kept.render({ stack: moved(), format: 'screen' }),
      whole: () => {
        fresh.open({ ...SIZE, depth: 8, channels: 3 }).set(pixels);
        fresh.render({ stack: moved(), format: 'screen' });
      },
    });
    report(`fader drag, 1.5 MP, 12 layers, ${name} one`, ours, whole, target, 1.57);
  }
  const radius = () => orton(8 + (++count % 97) / 97, SIZE.width);
  kept.render({ stack: radius(), format: 'screen' });
  const { ours, whole } = await side(rounds * 3, {
    ours: () => kept.render({ stack: radius(), format: 'screen' }),
    whole: () => {
      fresh.open({ ...SIZE, depth: 8, channels: 3 }).set(pixels);
      fresh.render({ stack: radius(), format: 'screen' });
    },
  });
  report('drag of the radius in an Orton glow', ours, whole, undefined, 1.57);
}
