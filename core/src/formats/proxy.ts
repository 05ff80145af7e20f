import { PROXY_EDGE, type PhotoProxy } from '../geometry/shape';
import { longEdge, type Layout } from '../pixels/picture';
import { shownAsShot } from '../pixels/roll-off';

const level = (byte: number | undefined): number => (byte ?? 0) / 255;

/** The proxy of a photo, from pixels of it that fit its edge, as a portable map holds them. Throws where they are more. */
export function proxyOf({ layout, pixels }: { readonly layout: Layout; readonly pixels: Uint8Array }): PhotoProxy {
  const { width, height, channels, depth } = layout;
  if (longEdge(layout) > PROXY_EDGE) throw new Error('a proxy is smaller');
  const size = depth / 8;
  // The high byte of 16 bits, which lie little-endian.
  const made = Uint8Array.from(
    { length: 3 * width * height },
    (_, i) => pixels[(Math.floor(i / 3) * channels + (i % 3)) * size + size - 1] as number,
  );
  const { headroom } = layout;
  if (headroom !== undefined)
    for (let i = 0; i < made.length; i += 3)
      made.set(
        shownAsShot([level(made[i]), level(made[i + 1]), level(made[i + 2])], headroom).map((v) => Math.round(255 * v)),
        i,
      );
  return { width, height, pixels: made };
}
