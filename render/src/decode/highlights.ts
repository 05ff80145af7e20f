/** Pixels along a side of a block whose colour is taken together. */
const BLOCK = 8;
/** Share of what a channel holds from which on it counts as full, a little at first, and all of it from the second. */
const [NEARLY, FULL] = [0.9, 0.98];
/** What is darker than this share of the least that a channel holds says nothing of the colour of lights. */
const DARK = 0.4;
/** How far apart (by their logarithms) two channels may put the light of a surrounding colour before that is not believed. */
const APART = 0.25;
/** How much less a surrounding colour is believed where but one channel is known. */
const LONELY = 0.1;

/** Sums of red, green and blue over blocks, with how many pixels they are of: four numbers each. */
interface Grid {
  readonly width: number;
  readonly height: number;
  readonly sums: Float32Array;
}

/**
 * Light that is lost where some channels of a sensor are full, put back in place: along the colour of what surrounds it that is not full, by the channels that are not, and towards
 * neutral as the last one fills; never across hues. Colour from far away counts only where there is none nearby (as in S. Gortler et al., "The lumigraph", 1996, 3.4: push and pull).
 * @param pixels red, green and blue of the camera, linear, with its white balance. @param full what each channel holds at most, of 65,535.
 */
export function putBackLights(pixels: Uint16Array, width: number, height: number, full: readonly [number, number, number]): void {
  const ends = full.map((v) => FULL * v) as [number, number, number];
  if (!pixels.some((v, i) => v >= (ends[i % 3] as number))) return;
  const colours = filled(gathered(pixels, width, height, full));
  const [fr, fg, fb] = full;
  const share = (v: number, most: number): number => {
    const x = Math.min(1, Math.max(0, (v / most - NEARLY) / (FULL - NEARLY)));
    return x * x * (3 - 2 * x);
  };
  const colour = new Float32Array(3);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 3) {
      const [r, g, b] = [pixels[i] as number, pixels[i + 1] as number, pixels[i + 2] as number];
      const [sr, sg, sb] = [share(r, fr), share(g, fg), share(b, fb)];
      if (sr + sg + sb === 0) continue;
      colourAt(colours, x, y, colour);
      const [mr, mg, mb] = colour as unknown as [number, number, number];
      const known = 3 - sr - sg - sb;
      const light = known > 1e-3 ? ((1 - sr) * (r / mr) + (1 - sg) * (g / mg) + (1 - sb) * (b / mb)) / known : Math.max(r / mr, g / mg, b / mb);
      const alike =
        (1 - LONELY * lonely(1 - sr, 1 - sg, 1 - sb)) *
        agreement(1 - sr, r / mr, 1 - sg, g / mg) *
        agreement(1 - sg, g / mg, 1 - sb, b / mb) *
        agreement(1 - sb, b / mb, 1 - sr, r / mr) *
        reaching(sr, light * mr, r) *
        reaching(sg, light * mg, g) *
        reaching(sb, light * mb, b);
      // Where the surroundings are of another colour, lights are taken for what most are, from warm over white to cool: green is half way between red and blue.
      const made = [
        r + sr * Math.max(0, alike * light * mr + (1 - alike) * (2 * g - b) - r),
        g + sg * Math.max(0, alike * light * mg + ((1 - alike) * (r + b)) / 2 - g),
        b + sb * Math.max(0, alike * light * mb + (1 - alike) * (2 * g - r) - b),
      ] as const;
      const lost = Math.min(sr, sg, sb);
      const grey = Math.max(...made);
      const scale = Math.min(1, 65535 / grey);
      for (let c = 0; c < 3; c++) {
        const v = made[c] as number;
        pixels[i + c] = Math.round(scale * (v + lost * (grey - v)));
      }
    }
}

/** How far two channels agree on a light, 0..1, as far as both are known. */
function agreement(knownOne: number, one: number, knownTwo: number, two: number): number {
  const apart = Math.log(Math.max(1, one) / Math.max(1, two)) / APART;
  return 1 - knownOne * knownTwo * (1 - Math.exp(-apart * apart));
}

/** How far the light that a surrounding colour asks for is one by which a channel is full, 0..1, as far as it is. */
function reaching(full: number, asked: number, seen: number): number {
  const short = Math.log(Math.max(1, seen) / Math.max(1, asked)) / APART;
  return short <= 0 ? 1 : 1 - full * (1 - Math.exp(-short * short));
}

/** How far no two channels are known, 0..1. */
const lonely = (one: number, two: number, three: number): number => 1 - Math.max(one * two, two * three, three * one);

/** What is bright and not full, block by block. */
function gathered(pixels: Uint16Array, width: number, height: number, full: readonly [number, number, number]): Grid {
  const [w, h] = [Math.ceil(width / BLOCK), Math.ceil(height / BLOCK)];
  const sums = new Float32Array(4 * w * h);
  const least = DARK * Math.min(...full);
  const [er, eg, eb] = full.map((v) => NEARLY * v) as [number, number, number];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 3) {
      const [r, g, b] = [pixels[i] as number, pixels[i + 1] as number, pixels[i + 2] as number];
      if (r >= er || g >= eg || b >= eb || Math.max(r, g, b) < least) continue;
      const at = 4 * (Math.floor(y / BLOCK) * w + Math.floor(x / BLOCK));
      sums[at] = (sums[at] as number) + r;
      sums[at + 1] = (sums[at + 1] as number) + g;
      sums[at + 2] = (sums[at + 2] as number) + b;
      sums[at + 3] = (sums[at + 3] as number) + 1;
    }
  return { width: w, height: h, sums };
}

/** A grid whose empty blocks have the colour of those about them, from coarser and coarser grids; neutral where there is none at all. Three numbers a block, of a mean of 1. */
function filled({ width, height, sums }: Grid): Grid {
  const out = new Float32Array(3 * width * height);
  const coarse = width * height > 1 ? filled(halved({ width, height, sums })) : undefined;
  const beyond = new Float32Array([1, 1, 1]);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (coarse) between(coarse, (x - 0.5) / 2, (y - 0.5) / 2, beyond);
      const [r, g, b, count] = [0, 1, 2, 3].map((c) => sums[4 * at + c] as number) as [number, number, number, number];
      const mean = (r + g + b) / 3;
      // A few pixels of a block say less than a whole one.
      const weight = mean > 0 ? Math.min(1, count / (BLOCK * BLOCK * 0.5)) : 0;
      [r, g, b].forEach((v, c) => {
        const own = mean > 0 ? Math.max(0.02, v / mean) : 1;
        out[3 * at + c] = weight * own + (1 - weight) * (beyond[c] as number);
      });
    }
  return { width, height, sums: out };
}

function halved({ width, height, sums }: Grid): Grid {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const out = new Float32Array(4 * w * h);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const to = 4 * ((y >> 1) * w + (x >> 1));
      for (let c = 0; c < 4; c++) out[to + c] = (out[to + c] as number) + (sums[4 * (y * width + x) + c] as number);
    }
  return { width: w, height: h, sums: out };
}

/** What stands in a grid of three numbers a block, between the middles of four. */
function between({ width, height, sums }: Grid, x: number, y: number, to: Float32Array): void {
  const [u, v] = [Math.min(width - 1, Math.max(0, x)), Math.min(height - 1, Math.max(0, y))];
  const [i, j] = [Math.min(Math.max(0, width - 2), Math.floor(u)), Math.min(Math.max(0, height - 2), Math.floor(v))];
  const [right, below] = [width > 1 ? 3 : 0, height > 1 ? 3 * width : 0];
  const at = 3 * (j * width + i);
  for (let c = 0; c < 3; c++) {
    const top = (sums[at + c] as number) + ((sums[at + right + c] as number) - (sums[at + c] as number)) * (u - i);
    const bottom = (sums[at + below + c] as number) + ((sums[at + below + right + c] as number) - (sums[at + below + c] as number)) * (u - i);
    to[c] = top + (bottom - top) * (v - j);
  }
}

const colourAt = (grid: Grid, x: number, y: number, to: Float32Array): void => between(grid, (x + 0.5) / BLOCK - 0.5, (y + 0.5) / BLOCK - 0.5, to);
