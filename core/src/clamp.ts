/** A value, held between a least and a most. */
export const clamp = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value));

/** A value, held between 0 and 1. */
export const unit = (value: number): number => clamp(value, 0, 1);
