import type { Gamut } from '@bexlen/core';

let wide: boolean | undefined;

/** Whether pictures and canvases of this browser hold colours beyond sRGB (HTML, "predefined color spaces"). Where they do not, the engine brings what is shown into sRGB. */
export const holdsWide = (): boolean => (wide ??= asked());

function asked(): boolean {
  try {
    const image = new ImageData(1, 1, { colorSpace: 'display-p3' });
    const context = document.createElement('canvas').getContext('2d', { colorSpace: 'display-p3' });
    return image.colorSpace === 'display-p3' && context?.getContextAttributes().colorSpace === 'display-p3';
  } catch {
    return false;
  }
}

/** An image of some primaries, which are sRGB wherever others cannot be held. @param bytes its pixels, which it is laid over. */
export function newImage(width: number, height: number, gamut: Gamut, bytes?: Uint8ClampedArray<ArrayBuffer>): ImageData {
  const settings = gamut === 'srgb' || !holdsWide() ? [] : ([{ colorSpace: gamut }] as const);
  return bytes ? new ImageData(bytes, width, height, ...settings) : new ImageData(width, height, ...settings);
}

/** The primaries of an image. A browser that knows no others names none. */
export const gamutOf = ({ colorSpace }: ImageData): Gamut => (colorSpace === 'display-p3' ? 'display-p3' : 'srgb');
