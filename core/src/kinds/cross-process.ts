import { curves, mix } from '../expressions/image';
import { defineKind } from './define';
import { choice, percent } from '../params';
import { channelTables, rise } from './tables';

/** For red, green and blue: how much of an S, and where black and white end. */
type Channel = readonly [s: number, black: number, white: number];
type Bath = readonly [Channel, Channel, Channel];
const baths = {
  slide: [
    [0.9, 0, 1],
    [0.55, 0.01, 0.98],
    [-0.45, 0.12, 0.82],
  ],
  negative: [
    [-0.3, 0.07, 0.95],
    [0.35, 0, 1],
    [0.25, 0.1, 0.86],
  ],
} as const satisfies Record<string, Bath>;

const bent =
  ([s, black, white]: Channel) =>
  (x: number): number =>
    black + (white - black) * (x + s * (rise(0, 1, x) - x));

/** Film in the chemistry of another: each channel gets a curve of its own, which turns shadows and highlights to different colours. */
export const crossProcess = defineKind({
  id: 'cross-process',
  family: 'film',
  label: 'Cross process',
  note: 'Film in the wrong bath: shifted, hard colours.',
  space: 'encoded',
  params: {
    bath: choice('Bath', [
      { id: 'slide', label: 'Slide in negative' },
      { id: 'negative', label: 'Negative in slide' },
    ]),
    amount: percent({ label: 'Amount', at: 0.8 }),
  },
  byDefault: 'Slide film in a bath for negatives.',
  work: (read, { bath, amount }) => {
    const [red, green, blue] = bath === 'negative' ? baths.negative : baths.slide;
    return mix('normal', read, curves(read, channelTables(`cross ${bath}`, [bent(red), bent(green), bent(blue)])), amount);
  },
});
