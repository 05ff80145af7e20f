import type { Bytes } from './bytes';

/** Counts of 256 levels, and shares of pixels that are clipped. */
export interface Histogram {
  readonly luminance: Uint32Array;
  readonly red: Uint32Array;
  readonly green: Uint32Array;
  readonly blue: Uint32Array;
  /** All channels at 0; any channel at 255. Shares of 1. */
  readonly clippedDark: number;
  readonly clippedLight: number;
}

/** Pixels that a histogram looks at, at most; larger pictures are looked at in steps. */
const ENOUGH = 400_000;

export function histogramOf({ width, height, data }: Bytes): Histogram {
  const [luminance, red, green, blue] = [0, 0, 0, 0].map(() => new Uint32Array(256)) as [Uint32Array, Uint32Array, Uint32Array, Uint32Array];
  const step = Math.max(1, Math.floor((width * height) / ENOUGH));
  let [dark, light, count] = [0, 0, 0];
  for (let i = 0; i < width * height; i += step) {
    const r = data[4 * i] as number;
    const g = data[4 * i + 1] as number;
    const b = data[4 * i + 2] as number;
    const y = Math.round(0.2126 * r + 0.7152 * g + 0.0722 * b);
    luminance[y] = (luminance[y] as number) + 1;
    red[r] = (red[r] as number) + 1;
    green[g] = (green[g] as number) + 1;
    blue[b] = (blue[b] as number) + 1;
    if (r === 255 || g === 255 || b === 255) light++;
    else if (r + g + b === 0) dark++;
    count++;
  }
  return { luminance, red, green, blue, clippedDark: dark / count, clippedLight: light / count };
}

/** The regions of a histogram, from dark to light, by the params of the kind Tone that move them. */
export const regions = [
  { name: 'blacks', label: 'Blacks', to: 0.1 },
  { name: 'shadows', label: 'Shadows', to: 0.37 },
  { name: 'brightness', label: 'Middle', to: 0.63 },
  { name: 'highlights', label: 'Highlights', to: 0.9 },
  { name: 'whites', label: 'Whites', to: 1 },
] as const;

/** The region of a tone 0..1. */
export const regionAt = (tone: number): (typeof regions)[number] => regions.find(({ to }) => tone < to) ?? regions[4];
