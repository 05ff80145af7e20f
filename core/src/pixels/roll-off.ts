import { decode, encode, type Rgb } from './colour';

/** A value as it is up to `knee`, and from there pressed together so that `room` becomes 1 and what is beyond it too (E. Reinhard et al. 2002, equation 4). 0 < knee < 1 < room. */
export function pressed(value: number, knee: number, room: number): number {
  if (value <= knee) return value;
  const most = (room - knee) / (1 - knee);
  const x = Math.min(most, (value - knee) / (1 - knee));
  return knee + (1 - knee) * ((x * (1 + x / (most * most))) / (1 + x));
}

/** Linear light whose largest channel is above `knee` brought under white, all channels alike, so that its hue stays; `room` becomes 1. */
export function rolledOff(linear: Rgb, knee: number, room: number): Rgb {
  const largest = Math.max(...linear);
  if (largest <= knee) return linear;
  const share = pressed(largest, knee, room) / Math.max(largest, 1e-6);
  return [linear[0] * share, linear[1] * share, linear[2] * share];
}

/** Light at which highlights begin to be rolled off, at no and at full recovery. */
const [LAST_KNEE, FIRST_KNEE] = [0.98, 0.5];
/** Of a recovery of highlights, 0..1. */
export const kneeOf = (recovery: number): number => LAST_KNEE + (FIRST_KNEE - LAST_KNEE) * recovery;
/** What of light comes to lie at white: all that there is of it, or, without recovery, next to nothing beyond white. */
export const roomOf = (recovery: number, gain: number): number => (recovery === 0 ? 2 - LAST_KNEE : Math.max(1.1, gain));
/** Recovery of a raw file as it was shot. */
export const USUAL_RECOVERY = 0.5;

/** What a developed raw file holds (encoded, 0..1, of which 1 stands for `headroom`) as it is shown when nothing was chosen. */
export function shownAsShot(rgb: Rgb, headroom: number): Rgb {
  const light = rgb.map((v) => headroom * decode(v)) as unknown as Rgb;
  const [r, g, b] = rolledOff(light, kneeOf(USUAL_RECOVERY), roomOf(USUAL_RECOVERY, headroom));
  return [encode(r), encode(g), encode(b)];
}
