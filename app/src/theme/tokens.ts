import type { Family } from '@bexlen/core';
import type { ViewStyle, TextStyle } from 'react-native';
import { say } from '../words';

/** Neutral greys without a tint, cream tape, and one warm signal. */
export const colour = {
  well: '#1b1b1b',
  groove: '#141414',
  desk: '#303030',
  raised: '#3d3d3d',
  edge: '#565656',
  text: '#ececec',
  quiet: '#bdbdbd',
  tape: '#ece0c0',
  ink: '#2b261a',
  signal: '#e2622b',
  signalText: '#f5a06f',
  onSignal: '#1a0d06',
  cap: '#d6d6d6',
  fault: '#ffb4a0',
} as const;

/** The surround of a photo under judgement: black to paper white. */
export const surrounds = ['#000000', '#262626', '#777777', '#bcbcbc', '#f4f4f4'] as const;
export const surroundNames = [say.theme.black, say.theme.darkGrey, say.theme.midGrey, say.theme.lightGrey, say.theme.paperWhite] as const;

/** A family's stripe, and its notches for those who do not see the hue: lengths of short cuts in the cap. */
export const familyMarks: Record<Family | 'group', { readonly hue: string; readonly notches: readonly number[] }> = {
  tone: { hue: '#c3a75a', notches: [1] },
  colour: { hue: '#b8718c', notches: [1, 1] },
  film: { hue: '#84a070', notches: [1, 1, 1] },
  light: { hue: '#cf8f63', notches: [0.5] },
  focus: { hue: '#7097b8', notches: [0.5, 0.5] },
  finish: { hue: '#9b89b9', notches: [0.5, 1] },
  picture: { hue: '#63a69c', notches: [1, 0.5] },
  hand: { hue: '#b08a82', notches: [0.5, 1, 0.5] },
  group: { hue: '#9a9a9a', notches: [] },
};

export const space = { hair: 1, xs: 4, s: 8, m: 12, l: 16, xl: 24 } as const;
/** The least size of anything to be touched. */
export const touch = 44;
export const radius = { s: 3, m: 6 } as const;
/** Milliseconds. */
export const motion = { quick: 90, calm: 140 } as const;

const label = "'Barlow Semi Condensed', 'Arial Narrow', system-ui";
const mono = "'Spline Sans Mono', ui-monospace, monospace";
export const type = {
  title: { fontFamily: label, fontWeight: '600', fontSize: 18, color: colour.text },
  label: { fontFamily: label, fontWeight: '500', fontSize: 15, color: colour.text },
  small: { fontFamily: label, fontWeight: '500', fontSize: 13, color: colour.quiet },
  tape: { fontFamily: label, fontWeight: '600', fontSize: 14, color: colour.ink },
  figure: { fontFamily: mono, fontWeight: '400', fontSize: 13, color: colour.text, fontVariant: ['tabular-nums'] },
  body: { fontFamily: label, fontWeight: '400', fontSize: 16, lineHeight: 22, color: colour.text },
} satisfies Record<string, TextStyle>;

/** Styles that only the web target knows. */
export const web = (style: Record<string, unknown>): ViewStyle => style as ViewStyle;
/** Marks words that lay a control out when they are tapped. */
export const dotted = web({
  textDecorationLine: 'underline',
  textDecorationStyle: 'dotted',
  textDecorationColor: colour.edge,
  textUnderlineOffset: '4px',
});
export const fades = web({ transitionProperty: 'opacity', transitionDuration: `${motion.calm}ms` });

/** From this width the desk is a row of strips. */
export const WIDE = 900;
/** Below this height nothing is to spare: a phone that lies on its side. */
export const LOW = 500;
