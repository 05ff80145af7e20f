/* Light that spreads and edges that bite: sums of images, rims, a shoulder; specks and hairs on the film. Straight colour; alpha stays. `d` may be any of the sources. */
// @ts-nocheck
import { add, f, least, luma, most, mul, px, put, splat, sub, withAlpha } from './lanes';

/** ka a + kb b. */
export function sum(d: usize, s: usize, b: usize, n: i32, ka: f32, kb: f32): void {
  const end = s + (<usize>n << 4), x = splat(ka), y = splat(kb);
  do { const v = px(s); put(d, withAlpha(add(mul(v, x), mul(px(b), y)), v)); s += 16; b += 16; d += 16; } while (s < end);
}

/** Above a knee the brightest channel bends towards 1, which it never passes; the others go along, so that no channel clips before another. */
export function shoulder(d: usize, s: usize, n: i32, knee: f32): void {
  const end = s + (<usize>n << 4), room: f32 = <f32>1 - knee;
  do {
    const v = px(s), peak: f32 = max<f32>(f32x4.extract_lane(v, 0), max<f32>(f32x4.extract_lane(v, 1), f32x4.extract_lane(v, 2)));
    const over: f32 = max<f32>(peak - knee, 0), bent: f32 = knee + room * over / (room + over);
    put(d, peak > knee ? withAlpha(mul(v, splat(bent / peak)), v) : v);
    s += 16; d += 16;
  } while (s < end);
}

/**
 * What a tone differs from its blur, `amount` times, added to all channels: a rim on either side of an edge. Differences under `threshold` add nothing; light rims go
 * up to `light`, dark ones down to `dark`, both approached smoothly.
 */
export function crisp(d: usize, s: usize, b: usize, n: i32, amount: f32, threshold: f32, light: f32, dark: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), off: f32 = luma(v) - luma(px(b)), size: f32 = abs<f32>(off), past: f32 = size * size / (size + threshold + <f32>1e-9);
    const wanted: f32 = amount * past, limit: f32 = off > 0 ? light : dark, rim: f32 = wanted * limit / (wanted + limit + <f32>1e-9);
    put(d, withAlpha(add(v, splat(off > 0 ? rim : -rim)), v));
    s += 16; b += 16; d += 16;
  } while (s < end);
}

@inline function hash(h: u32): u32 {
  h ^= h >> 16; h = <u32>(<i32>h * <i32>0x7feb352d); h ^= h >> 15; h = <u32>(<i32>h * <i32>0x846ca68b);
  return h ^ (h >> 16);
}
@inline function share(h: u32): f32 { return <f32>(h & 0xffff) * <f32>(1.0 / 65536); }
@inline function soft(t: f32): f32 { const u: f32 = min<f32>(max<f32>(t, 0), 1); return u * u * (<f32>3 - <f32>2 * u); }

/**
 * Dust on the film: one speck or hair at most in each cell of a lattice. After the map (from whole pixels to the film, in cells): how many cells hold one (0..1), the
 * radius of the largest speck in cells, which share of them are hairs (0..1), the width of hairs in cells, the least radius that is drawn in cells, a seed, how fine.
 */
export function dust(d: usize, n: i32, x: i32, y: i32, t: usize): void {
  const end = d + (<usize>n << 4), p = t + 48, density = f(p), size = f(p + 4), hairs = f(p + 8), width = f(p + 12), finest = f(p + 16), seed = <u32>f(p + 20);
  const yy = <f32>y;
  let xx = <f32>x, emptyX = 0, emptyY = 0, empty = false;
  do {
    const w: f32 = <f32>1 / (f(t + 24) * xx + f(t + 28) * yy + f(t + 32)), u: f32 = (f(t) * xx + f(t + 4) * yy + f(t + 8)) * w, v: f32 = (f(t + 12) * xx + f(t + 16) * yy + f(t + 20)) * w;
    const cx = <i32>floor<f32>(u), cy = <i32>floor<f32>(v);
    let strongest: f32 = 0, j = -1;
    // About most cells there is nothing.
    if (!empty || cx != emptyX || cy != emptyY) {
      empty = true; emptyX = cx; emptyY = cy;
      do {
        let i = -1;
        do {
          const h = hash(<u32>((cx + i) * <i32>0x85ebca77) ^ <u32>((cy + j) * <i32>0x9e3779b1) ^ (seed * 2654435761));
          if (share(h) < density) {
            const g = hash(h + 1), k = hash(h + 2);
            empty = false;
            const px0: f32 = <f32>(cx + i) + share(h >> 16), py0: f32 = <f32>(cy + j) + share(g), a: f32 = u - px0, b: f32 = v - py0;
            if (share(g >> 16) < hairs) {
              // A hair is a bent line: along a direction of its own, aside by a parabola.
              const way: f32 = share(k) * <f32>6.2831853, co = <f32>Mathf.cos(way), si = <f32>Mathf.sin(way), long: f32 = <f32>0.25 + <f32>0.55 * share(k >> 16);
              const along: f32 = a * co + b * si, bend: f32 = (share(hash(k)) - <f32>0.5) * <f32>1.6, aside: f32 = b * co - a * si - bend * along * along;
              const half: f32 = max<f32>(width, finest), end0: f32 = max<f32>(abs<f32>(along) - long, 0), off: f32 = sqrt<f32>(end0 * end0 + aside * aside);
              strongest = max<f32>(strongest, soft((half * <f32>1.5 - off) / half) * min<f32>(width / half, 1));
            } else {
              const r0: f32 = size * (<f32>0.15 + <f32>0.85 * share(k) * share(k) * share(k)), r: f32 = max<f32>(r0, finest), squeeze: f32 = <f32>0.55 + <f32>0.45 * share(k >> 16);
              const off: f32 = sqrt<f32>(a * a + b * b / (squeeze * squeeze));
              strongest = max<f32>(strongest, soft((r * <f32>1.3 - off) / (r * <f32>0.6)) * min<f32>(r0 * r0 / (r * r), 1));
            }
          }
        } while (++i <= 1);
      } while (++j <= 1);
    }
    put(d, splat(strongest));
    xx += 1; d += 16;
  } while (d < end);
}
