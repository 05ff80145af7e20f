import type { Kernels } from '../../pixels/kernels';

const held = new WeakMap<Kernels, Map<string, readonly unknown[]>>();

/**
 * Holds the latest things of a place in the code for as long as the kernels live. JavaScript engines tie compiled code to the objects it was made for: when
 * these are collected the code goes too, and the next render begins slowly. What loops over tiles and rows use is held here, one set for each place.
 */
export function keepAlive(kernels: Kernels, place: string, ...things: readonly unknown[]): void {
  const places = held.get(kernels) ?? new Map<string, readonly unknown[]>();
  held.set(kernels, places.set(place, things));
}
