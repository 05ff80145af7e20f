import { PROXY_EDGE, type PhotoProxy } from '../geometry/shape';
import { longEdge, type Layout } from '../pixels/picture';
import { shownAsShot } from '../pixels/roll-off';

/** The proxy of a photo, from pixels of it that fit its edge, as a portable map holds them. Throws where they are more. */
export function proxyOf({ layout, pixels }: { readonly layout: Layout; readonly pixels: Uint8Array }): PhotoProxy {
  const { width, height, channels, depth, headroom } = layout;
  if (longEdge(layout) > PROXY_EDGE) throw new Error('a proxy is smaller');
  const size = depth / 8;
  const at = (i: number): number => (Math.floor(i / 3) * channels + (i % 3)) * size;
  const length = 3 * width * height;
  // Of 16 bits, which lie little-endian, the high byte.
  const bytes = Uint8Array.from({ length }, (_, i) => pixels[at(i) + size - 1] as number);
  if (headroom === undefined) return { width, height, pixels: bytes };
  // A byte twice is the same share of 16 bits.
  const values = Uint16Array.from({ length }, (_, i) => 256 * (bytes[i] as number) + (pixels[at(i)] as number));
  const part = (i: number): number => (values[i] as number) / 65535;
  for (let i = 0; i < length; i += 3)
    bytes.set(
      shownAsShot([part(i), part(i + 1), part(i + 2)], headroom).map((v) => Math.round(255 * v)),
      i,
    );
  return { width, height, pixels: bytes, raw: { values, headroom } };
}
