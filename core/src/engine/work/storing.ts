import type { Kernels } from '../../pixels/kernels';
import type { StoreFormat } from '../plan/plan';
import type { PixelFormat } from '../plan/pixel-format';

type Store = (d: number, s: number, n: number, x: number, y: number, noise: number) => void;

/** Whether alpha is written too. */
export const wantsPixels = (format: StoreFormat): boolean => format === 'rgba8' || format === 'rgba16' || format === 'float';

/** Writes n pixels in a format, from rows of a format. What has no alpha is RGB rows on its way; `line` is scratch for that. */
export function storing(k: Kernels, format: StoreFormat, pixelFormat: PixelFormat, line: number): Store {
  const store: Store = {
    screen: k.storeScreen,
    rgb8: k.storeRgbRows8,
    rgb16: k.storeRgbRows16,
    rgba8: k.storeRgba8,
    rgba16: k.storeRgba16,
    float: k.copy,
  }[format];
  if (pixelFormat === 'rgb' || wantsPixels(format)) return store;
  return (d, s, n, x, y, noise) => {
    k.rgbRows(line, s, n);
    store(d, line, n, x, y, noise);
  };
}
