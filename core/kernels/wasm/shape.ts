/* Tone and colour by tables, on straight colour; alpha stays. `d` may be `s`. */
// @ts-nocheck
import { MAGIC, add, div, least, most, mul, nth, px, put, splat, sub, unit, withAlpha } from './lanes';

/** Entries of a table by lightness or by hue, each four floats; one more stands at the end. */
const STEPS: f32 = 1024;

/** The entry that lies before place `t` of a lane and the one after it, mixed by how far on it is. */
@inline function entry(at: i32, way: v128, table: usize): v128 {
  const p = table + (<usize>at << 4), low = px(p);
  return add(low, mul(sub(px(p + 16), low), way));
}
/** Whole numbers below places of 0 or more, as integers. */
@inline function below(t: v128): v128 { return i32x4.sub(add(f32x4.floor(t), splat(MAGIC)), i32x4.splat(0x4b400000)); }

@inline function toned(v: v128, t: v128): v128 { return withAlpha(add(mul(v, f32x4.replace_lane(nth(t, 3), 0, 1)), t), v); }

/** OKLab by lightness: the table says what to add to lightness, a and b, and by how much chroma is multiplied first. Works on four pixels at a time. */
export function byTone(d: usize, s: usize, n: i32, table: usize): void {
  const end = s + (<usize>n << 4);
  do {
    const p0 = px(s), p1 = px(s + 16), p2 = px(s + 32), p3 = px(s + 48);
    const l = v128.shuffle<i32>(v128.shuffle<i32>(p0, p1, 0, 4, 1, 5), v128.shuffle<i32>(p2, p3, 0, 4, 1, 5), 0, 1, 4, 5);
    const t = mul(unit(l), splat(STEPS - 1)), i = below(t), way = sub(t, f32x4.floor(t));
    put(d, toned(p0, entry(i32x4.extract_lane(i, 0), nth(way, 0), table)));
    put(d + 16, toned(p1, entry(i32x4.extract_lane(i, 1), nth(way, 1), table)));
    put(d + 32, toned(p2, entry(i32x4.extract_lane(i, 2), nth(way, 2), table)));
    put(d + 48, toned(p3, entry(i32x4.extract_lane(i, 3), nth(way, 3), table)));
    s += 64; d += 64;
  } while (s < end);
}

/**
 * OKLab by the hue of another OKLab colour, `by`: that of the pixel itself may be noise. The table goes round the diamond |a| + |b| = 1 and says what to add to
 * lightness, and a turn and stretch of chroma (cosine and sine, times gain). All of it fades out as the chroma of `by` goes to 0: the weight is
 * c^2 / (c^2 + knee^2). Works on four pixels at a time, turned so that each
 * value lies in a vector of its own.
 */
export function byHue(d: usize, s: usize, by: usize, n: i32, table: usize, knee: f32): void {
  const end = s + (<usize>n << 4), knee2 = splat(knee * knee);
  do {
    const p0 = px(s), p1 = px(s + 16), p2 = px(s + 32), p3 = px(s + 48);
    const la = v128.shuffle<i32>(p0, p1, 0, 4, 1, 5), lb = v128.shuffle<i32>(p2, p3, 0, 4, 1, 5), ha = v128.shuffle<i32>(p0, p1, 2, 6, 3, 7), hb = v128.shuffle<i32>(p2, p3, 2, 6, 3, 7);
    const l = v128.shuffle<i32>(la, lb, 0, 1, 4, 5), a = v128.shuffle<i32>(la, lb, 2, 3, 6, 7), b = v128.shuffle<i32>(ha, hb, 0, 1, 4, 5), alpha = v128.shuffle<i32>(ha, hb, 2, 3, 6, 7);
    const l0 = px(by), l1 = px(by + 16), l2 = px(by + 32), l3 = px(by + 48);
    const ma = v128.shuffle<i32>(l0, l1, 0, 4, 1, 5), mb = v128.shuffle<i32>(l2, l3, 0, 4, 1, 5), na = v128.shuffle<i32>(l0, l1, 2, 6, 3, 7), nb = v128.shuffle<i32>(l2, l3, 2, 6, 3, 7);
    const ga = v128.shuffle<i32>(ma, mb, 2, 3, 6, 7), gb = v128.shuffle<i32>(na, nb, 0, 1, 4, 5);
    const share = div(ga, most(add(f32x4.abs(ga), f32x4.abs(gb)), splat(1e-12)));
    const round = v128.bitselect(sub(splat(1), share), add(splat(3), share), f32x4.ge(gb, splat(0)));
    // What is no number, as it may lie past a row, is looked up somewhere too.
    const t = least(most(splat(0), mul(round, splat(STEPS / 4))), splat(STEPS)), i = below(t), way = sub(t, f32x4.floor(t));
    const e0 = entry(i32x4.extract_lane(i, 0), nth(way, 0), table), e1 = entry(i32x4.extract_lane(i, 1), nth(way, 1), table);
    const e2 = entry(i32x4.extract_lane(i, 2), nth(way, 2), table), e3 = entry(i32x4.extract_lane(i, 3), nth(way, 3), table);
    const ea = v128.shuffle<i32>(e0, e1, 0, 4, 1, 5), eb = v128.shuffle<i32>(e2, e3, 0, 4, 1, 5), ec = v128.shuffle<i32>(e0, e1, 2, 6, 3, 7), ee = v128.shuffle<i32>(e2, e3, 2, 6, 3, 7);
    const lift = v128.shuffle<i32>(ea, eb, 0, 1, 4, 5), co = sub(v128.shuffle<i32>(ea, eb, 2, 3, 6, 7), splat(1)), si = v128.shuffle<i32>(ec, ee, 0, 1, 4, 5);
    const c2 = add(mul(ga, ga), mul(gb, gb)), w = div(c2, add(c2, knee2));
    const x = add(l, mul(w, lift)), y = add(a, mul(w, sub(mul(co, a), mul(si, b)))), z = add(b, mul(w, add(mul(si, a), mul(co, b))));
    const xyA = v128.shuffle<i32>(x, y, 0, 4, 1, 5), xyB = v128.shuffle<i32>(x, y, 2, 6, 3, 7), zaA = v128.shuffle<i32>(z, alpha, 0, 4, 1, 5), zaB = v128.shuffle<i32>(z, alpha, 2, 6, 3, 7);
    put(d, v128.shuffle<i32>(xyA, zaA, 0, 1, 4, 5)); put(d + 16, v128.shuffle<i32>(xyA, zaA, 2, 3, 6, 7));
    put(d + 32, v128.shuffle<i32>(xyB, zaB, 0, 1, 4, 5)); put(d + 48, v128.shuffle<i32>(xyB, zaB, 2, 3, 6, 7));
    s += 64; by += 64; d += 64;
  } while (s < end);
}

/** OKLab chroma times 1 + gain, where `protect` (0..1) spares what is strong already: chroma 0.3 is left alone at 1. */
export function chroma(d: usize, s: usize, n: i32, gain: f32, protect: f32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), a = f32x4.extract_lane(v, 1), b = f32x4.extract_lane(v, 2);
    const c = min<f32>(sqrt<f32>(a * a + b * b) * <f32>(1.0 / 0.3), 1), k: f32 = <f32>1 + gain * (<f32>1 - protect * c);
    put(d, mul(v, f32x4(1, k, k, 1)));
    s += 16; d += 16;
  } while (s < end);
}
