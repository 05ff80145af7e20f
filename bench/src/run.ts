import os from 'node:os';
import { benchDrag } from './drag';
import { benchExports } from './exports';
import { benchBlur, benchGrowth, benchPoint } from './kernels';
import { benchBrush } from './brush';
import { benchFirst } from './first';
import { benchFocus } from './focus';
import { benchGamut } from './gamut';
import { benchHouse } from './house';
import { benchGraphics } from './graphics';
import { benchLight } from './light';
import { benchLooks } from './looks';
import { benchMasks } from './masks';
import { benchMemory } from './memory';
import { benchPreview } from './preview';

const ROUNDS = Number(process.env['ROUNDS'] ?? 5);
const wanted = process.argv.slice(2);
const parts: Record<string, () => Promise<void>> = {
  exports: () => benchExports(Math.max(2, ROUNDS - 2)),
  gamut: () => benchGamut(Math.max(2, ROUNDS - 2)),
  blur: () => benchBlur(ROUNDS),
  point: () => benchPoint(ROUNDS),
  growth: () => benchGrowth(Math.max(2, ROUNDS - 2)),
  drag: () => benchDrag(ROUNDS),
  preview: () => benchPreview(4 * ROUNDS),
  masks: () => benchMasks(Math.max(2, ROUNDS - 2)),
  light: () => benchLight(Math.max(2, ROUNDS - 3)),
  focus: () => benchFocus(Math.max(2, ROUNDS - 3)),
  brush: () => benchBrush(ROUNDS),
  graphics: () => benchGraphics(Math.max(1, ROUNDS - 3)),
  first: () => benchFirst(ROUNDS),
  looks: benchLooks,
  memory: benchMemory,
  house: benchHouse,
};

console.log(
  `${os.cpus()[0]?.model ?? 'unknown processor'}, ${os.availableParallelism()} cores, load ${os.loadavg()[0]?.toFixed(2)}; ours, yardstick, ratio: in the middle of the rounds, in brackets the best ones`,
);
for (const [name, run] of Object.entries(parts)) if (wanted.length === 0 || wanted.includes(name)) await run();
process.exit(0);
