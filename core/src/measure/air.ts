import type { Bytes } from './bytes';

/** Places across the long side, and pixels looked at along each side of one. */
const PLACES = 64;
const LOOKS = 5;
/** Share of the places that are taken for the haziest. */
const HAZIEST = 0.02;

/**
 * Tone of the haze, 0..1: that of the places whose darkest channel is lightest, as the light of the air is found by the dark channel (K. He, J. Sun, X. Tang,
 * "Single Image Haze Removal Using Dark Channel Prior", 2009, 4.4). Their median, so that lamps and windows among them do not decide.
 */
export function airOf({ width, height, data }: Bytes): number {
  const side = Math.max(1, Math.max(width, height) / PLACES);
  const places: { dark: number; tone: number }[] = [];
  for (let y = 0; y < height; y += side)
    for (let x = 0; x < width; x += side) {
      const [dark, tone] = [[] as number[], [] as number[]];
      for (let j = 0; j < LOOKS; j++)
        for (let i = 0; i < LOOKS; i++) {
          const at = 4 * (Math.min(height - 1, Math.floor(y + (side * j) / LOOKS)) * width + Math.min(width - 1, Math.floor(x + (side * i) / LOOKS)));
          const [r, g, b] = [data[at] as number, data[at + 1] as number, data[at + 2] as number];
          dark.push(Math.min(r, g, b));
          tone.push(0.2126 * r + 0.7152 * g + 0.0722 * b);
        }
      places.push({ dark: Math.min(...dark), tone: tone.reduce((a, b) => a + b, 0) / tone.length });
    }
  places.sort((a, b) => b.dark - a.dark);
  const haziest = places
    .slice(0, Math.max(1, Math.round(places.length * HAZIEST)))
    .map(({ tone }) => tone)
    .sort((a, b) => a - b);
  return Math.round(haziest[Math.floor(haziest.length / 2)] as number) / 255;
}
