import { decode, encode } from '../pixels/colour';
import type { Gamut } from '../pixels/gamut';
import { bytesPerPixel, type Layout } from '../pixels/picture';

/** Another photo's pixels, as they lie in a file's bytes. */
export interface Pixels {
  readonly layout: Layout;
  readonly bytes: Uint8Array;
}

interface Known {
  /** Told apart from others that had the same name. */
  readonly key: string;
  /** Its pixels, then as they are at half the size, and so on, as far as somebody asked for them. */
  readonly sizes: Pixels[];
}

/** A picture as it is at hand: of an odd number of pixels, half the size ends in the middle of its last one. */
export interface AtHand extends Pixels {
  /** Its sides, in its own pixels. */
  readonly width: number;
  readonly height: number;
}

/** Other photos' pixels, by the names that layers have for them. */
export class Pictures {
  private readonly known = new Map<string, Known>();
  private count = 0;

  set(name: string, pixels: Pixels): void {
    this.known.set(name, { key: `${name}#${++this.count}`, sizes: [pixels] });
  }
  delete(name: string): void {
    this.known.delete(name);
  }

  clear(): void {
    this.known.clear();
  }

  /** What names a picture and the pixels that it has now; nothing, if it is not at hand. */
  keyOf(name: string): string | undefined {
    return this.known.get(name)?.key;
  }

  /** The primaries of a picture; those of sRGB, if it is not at hand. */
  gamutOf(name: string): Gamut {
    return this.known.get(name)?.sizes[0]?.layout.gamut ?? 'srgb';
  }

  /** The headroom of a picture that a raw file was developed into. */
  headroomOf(name: string): number | undefined {
    return this.known.get(name)?.sizes[0]?.layout.headroom;
  }

  /** A picture's pixels, small enough that about `perPixel` of them come to one of what is made, at most twice as many. */
  pixelsFor(name: string, perPixel: (width: number, height: number) => number): AtHand | undefined {
    const known = this.known.get(name);
    if (!known) return undefined;
    const whole = (known.sizes[0] as Pixels).layout;
    for (let i = 0; ; i++) {
      const pixels = known.sizes[i] as Pixels;
      const [width, height] = [whole.width / 2 ** i, whole.height / 2 ** i];
      if (perPixel(width, height) < 2 || Math.min(width, height) < 4) return { ...pixels, width, height };
      known.sizes[i + 1] ??= halvedPixels(pixels);
    }
  }
}

/** Tables between bytes and linear light, fine enough that 16 bits come back as they were within a step or two. */
const STEPS = 65535;
const tables = new Map<number, Float64Array>();
function lightOf(most: number): Float64Array {
  const known = tables.get(most);
  if (known) return known;
  const table = Float64Array.from({ length: most + 1 }, (_, i) => decode(i / most));
  tables.set(most, table);
  return table;
}

/** Half the size, each pixel the mean light of four; a last odd row or column counts twice. Alpha counts for how much of a pixel there is. */
function halvedPixels({ layout, bytes }: Pixels): Pixels {
  const [width, height] = [(layout.width + 1) >> 1, (layout.height + 1) >> 1];
  const held = (i: number, most: number): number => Math.min(i, most - 1);
  const { channels, depth } = layout;
  const most = depth === 8 ? 255 : STEPS;
  const light = lightOf(most);
  const from = depth === 8 ? bytes : new Uint16Array(bytes.slice().buffer);
  const out = depth === 8 ? new Uint8Array(width * height * channels) : new Uint16Array(width * height * channels);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const places = [0, 1].flatMap((j) =>
        [0, 1].map((i) => (held(2 * y + j, layout.height) * layout.width + held(2 * x + i, layout.width)) * channels),
      );
      const alphas = places.map((at) => (channels === 4 ? (from[at + 3] as number) / most : 1));
      const sum = alphas.reduce((all, a) => all + a, 0);
      const to = (y * width + x) * channels;
      for (let c = 0; c < 3; c++) {
        const mean = places.reduce((all, at, k) => all + (light[from[at + c] as number] as number) * (alphas[k] as number), 0) / Math.max(sum, 1e-6);
        out[to + c] = Math.round(encode(mean) * most);
      }
      if (channels === 4) out[to + 3] = Math.round((sum / 4) * most);
    }
  const made = { ...layout, width, height };
  return { layout: made, bytes: new Uint8Array(out.buffer, 0, width * height * bytesPerPixel(made)) };
}
