import type { Kernels } from '../../pixels/kernels';
import type { Layout } from '../../pixels/picture';
import type { PixelFormat } from '../plan/pixel-format';

/** Brings n pixels of a file's bytes into the working format, encoded as they are. Opaque ones are RGB rows on their way. */
export function loading(
  k: Kernels,
  { channels, depth }: Pick<Layout, 'channels' | 'depth'>,
  pixelFormat: PixelFormat,
): (d: number, s: number, n: number) => void {
  if (channels === 4) return depth === 8 ? k.loadRgba8 : k.loadRgba16;
  const load = depth === 8 ? k.loadRgbRows8 : k.loadRgbRows16;
  if (pixelFormat === 'rgb') return load;
  return (d, s, n) => {
    load(d, s, n);
    k.opaque(d, d, n);
  };
}
