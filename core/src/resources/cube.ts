/** A colour look-up table: one curve for each channel, or a lattice of colours. */
export interface Cube {
  readonly title: string;
  readonly dimensions: 1 | 3;
  /** Entries along a side. */
  readonly size: number;
  /** Input values that the first and the last entry stand for. */
  readonly least: readonly [number, number, number];
  readonly most: readonly [number, number, number];
  /** Red, green, blue of each entry; red changes fastest. */
  readonly values: Float32Array;
}
