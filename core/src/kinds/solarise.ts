import { affine, curve, gaussian, matrix, mix } from '../expressions/image';
import { chroma, fromOklab, toOklab } from '../expressions/colour';
import { lumaOf } from '../pixels/gamut';
import { defineKind } from './define';
import { length, percent, toneLevel } from '../params';
import { rise, toneTable } from './tables';

/**
 * A print exposed again while it develops: tones above the turn go down again, and a line stands along edges, where spent developer holds the second
 * exposure back (the effect named after Sabattier).
 */
export const solarise = defineKind({
  id: 'solarise',
  family: 'film',
  label: 'Solarise',
  note: 'Turns the light tones over, with lines along edges.',
  space: 'encoded',
  params: {
    turn: toneLevel({ label: 'Turn', min: 0.2, max: 0.9, at: 0.5 }),
    amount: percent({ label: 'Amount', at: 1 }),
    line: percent({ label: 'Edge line', at: 0.3 }),
    width: length({ label: 'Line width', min: 0.0005, max: 0.01, at: 0.0015, middle: 0.0025 }),
    colour: percent({ label: 'Colour kept', at: 0 }),
  },
  byDefault: 'A monochrome print that turns at middle grey.',
  fit: ({ tone }) => (tone < 0.3 ? 'This photo is dark: little of it lies above the turn. Brighten it first, or lower the turn.' : undefined),
  work: (read, { turn, amount, line, width, colour }, { edge, gamut }) => {
    const start = colour === 1 ? read : fromOklab(chroma(toOklab(read), colour - 1, 0));
    const f = (x: number): number => x + amount * (rise(0, turn, Math.min(x, turn)) - (x > turn ? rise(turn, 1, x) : 0) - x);
    const turned = curve(start, toneTable(`solarise ${turn} ${amount}`, f));
    if (line === 0) return turned;
    const luma = lumaOf(gamut);
    const tone = matrix(read, [luma, luma, luma]);
    const edges = affine(mix('difference', tone, gaussian(tone, width * edge)), 5, -0.04);
    return mix('screen', turned, edges, line);
  },
});
