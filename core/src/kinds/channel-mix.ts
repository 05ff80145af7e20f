import { matrix } from '../expressions/image';
import { defineKind } from './define';
import { percent } from '../params';

const share = (label: string, section: string, at: number) => percent({ label, min: -2, max: 2, at, section });

/** Red, green and blue made anew, each from all three, on encoded values. */
export const channelMix = defineKind({
  id: 'channel-mix',
  family: 'colour',
  label: 'Channel mix',
  note: 'Makes each channel from all three.',
  space: 'encoded',
  params: {
    redFromRed: share('from red', 'Red', 1),
    redFromGreen: share('from green', 'Red', 0),
    redFromBlue: share('from blue', 'Red', 0),
    greenFromRed: share('from red', 'Green', 0),
    greenFromGreen: share('from green', 'Green', 1),
    greenFromBlue: share('from blue', 'Green', 0),
    blueFromRed: share('from red', 'Blue', 0),
    blueFromGreen: share('from green', 'Blue', 0),
    blueFromBlue: share('from blue', 'Blue', 1),
  },
  boards: [
    {
      board: 'matrix',
      params: ['Red', 'Green', 'Blue'].flatMap((to) => ['Red', 'Green', 'Blue'].map((from) => `${to.toLowerCase()}From${from}`)),
      rows: ['Red', 'Green', 'Blue'],
      columns: ['from red', 'from green', 'from blue'],
    },
  ],
  byDefault: 'neutral',
  shown: { redFromRed: 0, redFromBlue: 1, blueFromBlue: 0, blueFromRed: 1 },
  variants: [
    { label: 'Red for blue', params: { redFromRed: 0, redFromBlue: 1, blueFromBlue: 0, blueFromRed: 1 } },
    { label: 'Red for green', params: { redFromRed: 0, redFromGreen: 1, greenFromGreen: 0, greenFromRed: 1 } },
    { label: 'Round the wheel', params: { redFromRed: 0, redFromBlue: 1, greenFromGreen: 0, greenFromRed: 1, blueFromBlue: 0, blueFromGreen: 1 } },
  ],
  work: (read, v) => {
    const rows = [
      [v.redFromRed, v.redFromGreen, v.redFromBlue],
      [v.greenFromRed, v.greenFromGreen, v.greenFromBlue],
      [v.blueFromRed, v.blueFromGreen, v.blueFromBlue],
    ] as const;
    return rows.every((row, i) => row.every((x, j) => x === (i === j ? 1 : 0))) ? read : matrix(read, rows);
  },
});
