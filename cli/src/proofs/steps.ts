/** Tones of a picture, Rec. 709 luma in 8-bit levels. */
export interface Tones {
  readonly width: number;
  readonly height: number;
  readonly at: Float32Array;
}

/** Of a picture of 8-bit RGB rows. */
export function tonesOf(width: number, height: number, pixels: Uint8Array): Tones {
  const at = new Float32Array(width * height);
  for (let i = 0; i < at.length; i++)
    at[i] = 0.2126 * (pixels[3 * i] as number) + 0.7152 * (pixels[3 * i + 1] as number) + 0.0722 * (pixels[3 * i + 2] as number);
  return { width, height, at };
}

const SIGMA = 2;
const RADIUS = 7;
/** Levels of 8 bits: a slope that is smooth, a step from pixel to pixel that is seen, and one that is the source's own noise. */
const SMOOTH = 0.4;
const STEP = 4;
const NOISE = 2;

/** Where a source is smooth: its gradient, blurred by a Gaussian of 2 pixels, is under 0.4 level a pixel, and its own neighbours differ by no more than noise. */
export function smoothPlaces(source: Tones): Uint8Array {
  const { width, height } = source;
  const soft = blurred(blurred(source, 1), width).at;
  const smooth = new Uint8Array(width * height);
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const [across, down] = [
        ((soft[i + 1] as number) - (soft[i - 1] as number)) / 2,
        ((soft[i + width] as number) - (soft[i - width] as number)) / 2,
      ];
      if (Math.hypot(across, down) < SMOOTH && stepAt(source, i) < NOISE) smooth[i] = 1;
    }
  return smooth;
}

/** How much a pixel differs from its right or its lower neighbour. */
function stepAt({ width, at }: Tones, i: number): number {
  const v = at[i] as number;
  return Math.max(Math.abs((at[i + 1] as number) - v), Math.abs((at[i + width] as number) - v));
}

function blurred(tones: Tones, stride: number): Tones {
  const { width, height, at } = tones;
  const taps = Array.from({ length: 2 * RADIUS + 1 }, (_, i) => Math.exp(-((i - RADIUS) ** 2) / (2 * SIGMA ** 2)));
  const sum = taps.reduce((a, b) => a + b, 0);
  const out = new Float32Array(at.length);
  const last = stride === 1 ? width - 1 : height - 1;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const place = stride === 1 ? x : y;
      let v = 0;
      for (let k = -RADIUS; k <= RADIUS; k++) {
        const held = Math.min(last, Math.max(0, place + k));
        v += (taps[k + RADIUS] as number) * (at[y * width + x + (held - place) * stride] as number);
      }
      out[y * width + x] = v / sum;
    }
  return { width, height, at: out };
}

export interface Steps {
  /** Share of all pixels where the source is smooth and the result has a step. */
  readonly share: number;
  /** Upper left corner of the window in which there are most of them. */
  readonly worst: { readonly x: number; readonly y: number };
}

/** New steps of a result, and the window of a size that has most of them; the middle, if there are none. */
export function stepsOf(smooth: Uint8Array, result: Tones, window: { width: number; height: number }): Steps {
  const { width, height } = result;
  const across = Math.max(1, Math.ceil(width / window.width));
  const counts = new Uint32Array(across * Math.max(1, Math.ceil(height / window.height)));
  let count = 0;
  for (let y = 0; y < height - 1; y++)
    for (let x = 0; x < width - 1; x++) {
      const i = y * width + x;
      if (!smooth[i] || stepAt(result, i) <= STEP) continue;
      count++;
      const cell = Math.floor(y / window.height) * across + Math.floor(x / window.width);
      counts[cell] = (counts[cell] as number) + 1;
    }
  const most = counts.indexOf(Math.max(...counts));
  const inside = (v: number, size: number, of: number): number => Math.max(0, Math.min(v, of - size));
  const [x, y] =
    count === 0
      ? [(width - window.width) / 2, (height - window.height) / 2]
      : [(most % across) * window.width, Math.floor(most / across) * window.height];
  return {
    share: count / (width * height),
    worst: { x: inside(Math.round(x), window.width, width), y: inside(Math.round(y), window.height, height) },
  };
}

/** Share of pixels under a level of 8 bits. */
export const shareUnder = ({ at }: Tones, level: number): number => at.reduce((n, v) => n + (v < level ? 1 : 0), 0) / at.length;
