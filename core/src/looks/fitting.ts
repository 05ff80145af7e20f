import { clamp } from '../clamp';
import type { KindId } from '../kinds';
import { decode, encode } from '../pixels/colour';
import { newGroup, newLayer } from '../stack/edit';
import type { Layer } from '../stack/schema';
import type { Stand } from './stand';

/** Where looks were made that do not say it: a well exposed photo by daylight. */
export const USUAL: Stand = { tones: [0.08, 0.42, 0.92], light: -0.1, sky: 0, leaves: 0, warm: 0 };

/** The name of the channel that brings a photo to where a look was made. */
const FIT = 'Fit';

/** Whether a layer is such a channel. */
export const isFit = ({ kind, name }: Layer): boolean => kind === 'group' && name === FIT;

/** How far it goes: stops of light, and where black and white are put at most. */
const MOST_STOPS = 3;
const MOST_BLACK = 0.12;
const LEAST_WHITE = 0.6;
/** Of a difference in the colour of the light so much is taken back, and at most: what is seen in it may be the photo's own colours. */
const OF_LIGHT = 0.9;
const MOST_WARMTH = 0.7;
/** Stops by which the brightest may be pushed over white: what is missing to the middle is bent, so that lights are kept. */
const OVER = 0.1;
/** Less warmth, fewer stops or a smaller bend than this is left alone. */
const LEAST = 0.02;

/** What brings a photo from where it stands to where a look was made: by the parameters of three kinds. */
export function fitOf(from: Stand, to: Stand): { warmth: number; stops: number; black: number; midtone: number; white: number } {
  const warmth = hundredth(clamp(OF_LIGHT * (from.light - to.light), -MOST_WARMTH, MOST_WARMTH));
  const [dark, middle, bright] = from.tones.map((v) => Math.max(decode(v), 1e-4)) as [number, number, number];
  const wanted = to.tones.map((v) => clamp(v, 0.001, 0.999)) as [number, number, number];
  const room = Math.max(0, Math.log2(Math.max(decode(wanted[2]), bright) / bright)) + OVER;
  const stops = hundredth(clamp(Math.min(Math.log2(decode(wanted[1]) / middle), room), -MOST_STOPS, MOST_STOPS));
  const lit = [dark, middle, bright].map((v) => Math.min(1, encode(v * 2 ** stops))) as [number, number, number];
  return { warmth, stops, ...levelled(lit, wanted) };
}

/** Levels that bring three tones to three others, as far as black and white may go. */
function levelled(
  [a, b, c]: readonly [number, number, number],
  [to, middle, end]: readonly [number, number, number],
): { black: number; midtone: number; white: number } {
  const ends = (midtone: number): [number, number] => {
    const [low, high] = [to ** midtone, end ** midtone];
    const range = (c - a) / Math.max(0.05, high - low);
    const black = clamp(a - low * range, 0, MOST_BLACK);
    return [black, clamp(black + (c - black) / Math.max(0.05, high), LEAST_WHITE, 1)];
  };
  const made = (midtone: number): number => {
    const [black, white] = ends(midtone);
    return clamp((b - black) / (white - black), 0, 1) ** (1 / midtone);
  };
  let [least, most] = [Math.log(0.4), Math.log(2.5)];
  for (let i = 0; i < 40; i++) {
    const half = (least + most) / 2;
    if (made(Math.exp(half)) < middle) least = half;
    else most = half;
  }
  const midtone = hundredth(Math.exp((least + most) / 2));
  const [black, white] = ends(midtone).map((v) => Math.round(v * 255) / 255) as [number, number];
  return { black, midtone, white };
}

const hundredth = (v: number): number => Math.round(v * 100) / 100;

/** What it does, in words and figures; empty where that is nothing. */
export function fitWords(from: Stand, to: Stand): string {
  const { warmth, stops, black, white, midtone } = fitOf(from, to);
  const words = [
    ...(Math.abs(stops) > LEAST ? [`${stops > 0 ? '+' : '−'}${Math.abs(stops).toFixed(1)} stops`] : []),
    ...(Math.abs(warmth) > LEAST ? [warmth > 0 ? 'warmer light' : 'cooler light'] : []),
    ...(black > 0 || white < 1 ? ['ends opened'] : []),
    ...(Math.abs(midtone - 1) > 0.1 ? [midtone > 1 ? 'middle tones up' : 'middle tones down'] : []),
  ];
  return words.join(', ');
}

/** The channel that does it: a group whose fader is its strength; undefined where the photo stands as the look wants it. */
export function fitLayer(from: Stand, to: Stand, newId: () => string): Layer | undefined {
  const { warmth, stops, black, midtone, white } = fitOf(from, to);
  const layer = (kind: KindId, params: Readonly<Record<string, number>>): Layer => {
    const plain = newLayer(kind, newId());
    return { ...plain, params: { ...plain.params, ...params } };
  };
  const layers = [
    ...(Math.abs(warmth) > LEAST ? [layer('white-balance', { warmth })] : []),
    ...(Math.abs(stops) > LEAST ? [layer('exposure', { stops })] : []),
    ...(black > 0 || white < 1 || Math.abs(midtone - 1) > LEAST ? [layer('levels', { black, midtone, white })] : []),
  ];
  return layers.length === 0 ? undefined : { ...newGroup(newId(), layers), name: FIT };
}
