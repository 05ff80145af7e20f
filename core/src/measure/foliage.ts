/** OKLab hues of lit leaves and grass, of sky, of water, and how far around them counts. */
export const FOLIAGE = { hue: 122, width: 42 };
export const SKY = { hue: 250, width: 45 };

/** How much a hue belongs to something, 0..1. */
export const belongs = ({ hue, width }: { hue: number; width: number }, at: number): number => {
  const off = Math.abs(((at - hue + 540) % 360) - 180);
  return off >= width ? 0 : 0.5 + 0.5 * Math.cos((Math.PI * off) / width);
};
export const foliageAt = (hueDeg: number): number => belongs(FOLIAGE, hueDeg);
