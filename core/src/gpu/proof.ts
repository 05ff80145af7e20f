import { emptyMask, newPart } from '../masks/mask';
import { newLayer } from '../stack/edit';
import { emptyStack, type KindLayer, type Stack } from '../stack/schema';
import type { KindId } from '../kinds';
import type { GpuMachine } from './machine';
import type { Comparable } from './opened';

const [WIDTH, HEIGHT] = [80, 60];
/** By how many levels both machines may differ. */
const MOST = 1;

/** A picture with a smooth slope, an edge, strong colours, black and white. */
function proofBytes(): Uint8Array {
  return Uint8Array.from({ length: WIDTH * HEIGHT * 3 }, (_, i) => {
    const [x, y, c] = [Math.floor(i / 3) % WIDTH, Math.floor(i / 3 / WIDTH), i % 3];
    if (y >= HEIGHT - 8) return x < WIDTH / 2 ? (x % 20 < 10 ? 0 : 255) : Math.floor(x / 6) % 3 === c ? 255 : 0;
    const wave = 0.5 + 0.3 * Math.sin(x / 9 + c) * Math.cos(y / 7) + (x > WIDTH / 2 ? 0.15 : -0.1);
    return Math.round(255 * Math.min(1, Math.max(0, wave)));
  });
}

/** Stacks that together need every kind of shader, as those on the bench do. */
function proofStacks(): Stack[] {
  let count = 0;
  const layer = (kind: KindId, rest: Partial<KindLayer> = {}): KindLayer => ({ ...newLayer(kind, `p${++count}`), ...rest });
  const masked = { mask: { ...emptyMask, parts: [newPart('oval', 'a'), { ...newPart('tones', 'b'), join: 'within' as const }] } };
  const all: KindLayer[][] = [
    [
      layer('toning'),
      layer('grade', { blend: 'soft-light' }),
      layer('saturation', { blend: 'luminosity' }),
      layer('cross-process', { strength: 0.6 }),
    ],
    [layer('film-character'), layer('hue-bands', masked), layer('infrared', { blend: 'screen', strength: 0.4 })],
    [layer('orton', { blend: 'hard-light', strength: 0.7 }), layer('halation'), layer('vignette')],
    [layer('local-contrast'), layer('haze'), layer('sharpen')],
    [layer('grain'), layer('dust-scratches'), layer('paper', { blend: 'multiply' })],
    [layer('lens-blur'), layer('motion-blur', { strength: 0.5, ...masked })],
    [layer('oval-focus'), layer('brushwork', { strength: 0.5 })],
  ];
  return all.map((layers) => ({ ...emptyStack, layers }));
}

/** Whether a graphics processor makes the pictures that the processor makes: both make a few small ones. */
export async function proves(machine: GpuMachine, engine: Comparable): Promise<boolean> {
  engine.open({ width: WIDTH, height: HEIGHT, depth: 8, channels: 3 }).set(proofBytes());
  try {
    for (const stack of proofStacks()) {
      const { program, sources } = engine.seen({ stack });
      const second = await machine.render(program, sources, { format: 'screen', patient: true });
      const first = engine.render({ stack, format: 'screen' });
      if (!first || !second || !first.pixels.every((v, i) => Math.abs(v - (second.pixels[i] ?? NaN)) <= MOST)) return false;
    }
    return true;
  } finally {
    engine.close();
  }
}
