/* Tone tables: pairs (value, step to the next value), addressed by the root of the input. */
// @ts-nocheck
import { MAGIC, TABLE, add, mul, px, put, splat, sub, unit } from './lanes';

/** Bytes of one tone table. */
export const ONE: usize = 4096 * 8;

/** Where in a table values stand. */
@inline function place(v: v128): v128 { return mul(f32x4.sqrt(unit(v)), splat(TABLE)); }

/** The whole numbers below, in the low bits. */
@inline function whole(t: v128): v128 { return add(sub(t, splat(0.5)), splat(MAGIC)); }

/** Addresses of the pairs that whole numbers stand for. */
@inline function pairs(m: v128, table: usize): v128 { return i32x4.add(i32x4.shl(m, 3), i32x4.splat(<i32>table - (0x4b400000 << 3))); }

@inline function pair(at: usize): usize { return <usize>load<u32>(at); }

/**
 * Straight colour by a table each for red, green and blue, \`apart\` bytes from each other. \`spare\` is 16 bytes of scratch: whole numbers get from vectors to
 * addresses fastest by way of memory.
 */
@inline export function lookUp(v: v128, table: usize, apart: usize, spare: usize): v128 {
  const t = place(v), m = whole(t), way = sub(t, sub(m, splat(MAGIC)));
  put(spare, pairs(m, table));
  const rg = v128.load64_lane(pair(spare + 4) + apart, v128.load64_zero(pair(spare)), 1), b = v128.load64_zero(pair(spare + 8) + 2 * apart);
  return add(v128.shuffle<i32>(rg, b, 0, 2, 4, 4), mul(v128.shuffle<i32>(rg, b, 1, 3, 5, 5), way));
}

/** One table at four tones. */
@inline export function lookUp4(v: v128, table: usize, spare: usize): v128 {
  const t = place(v), m = whole(t), way = sub(t, sub(m, splat(MAGIC)));
  put(spare, pairs(m, table));
  const ab = v128.load64_lane(pair(spare + 4), v128.load64_zero(pair(spare)), 1);
  const ce = v128.load64_lane(pair(spare + 12), v128.load64_zero(pair(spare + 8)), 1);
  return add(v128.shuffle<i32>(ab, ce, 0, 2, 4, 6), mul(v128.shuffle<i32>(ab, ce, 1, 3, 5, 7), way));
}
