/*
 * Linear light, OKLab and powers, on straight colour; alpha stays. Powers are exp2(p log2 x) by series, accurate to about 1e-6 of the
 * value, so that tones beyond white keep their meaning. `d` may be `s`.
 */
// @ts-nocheck
import { MAGIC, add, div, each, least, most, mul, px, put, splat, sub, withAlpha } from './lanes';
import { lookUp4 } from './tables';

/** log2 of positive lanes: 2 atanh((m - 1) / (m + 1)) of a mantissa about 1, plus the exponent. */
@inline function log2(x: v128): v128 {
  const e = i32x4.shr_s(i32x4.sub(x, i32x4.splat(0x3f3504f3)), 23), m = i32x4.sub(x, i32x4.shl(e, 23));
  const s = div(sub(m, splat(1)), add(m, splat(1))), q = mul(s, s);
  const series = add(splat(1), mul(q, add(splat(1.0 / 3), mul(q, add(splat(1.0 / 5), mul(q, add(splat(1.0 / 7), mul(q, splat(1.0 / 9)))))))));
  return add(f32x4.convert_i32x4_s(e), mul(mul(s, splat(2.885390081777927)), series));
}

/** 2^x, by the exponential series about the nearest whole number; x is held where float32 has room. */
@inline function exp2(x: v128): v128 {
  const held = least(most(x, splat(-126)), splat(126)), whole = add(held, splat(MAGIC)), f = mul(sub(held, sub(whole, splat(MAGIC))), splat(0.6931471805599453));
  const series = add(splat(1), mul(f, add(splat(1), mul(f, add(splat(1.0 / 2), mul(f, add(splat(1.0 / 6), mul(f, add(splat(1.0 / 24), mul(f, add(splat(1.0 / 120), mul(f, splat(1.0 / 720)))))))))))));
  return mul(series, i32x4.shl(i32x4.add(whole, i32x4.splat(127 - 0x4b400000)), 23));
}

/** x^p of lanes above 0; 0 of the others. */
@inline function power(x: v128, p: v128): v128 { return v128.and(exp2(mul(log2(most(x, splat(1e-30))), p)), f32x4.gt(x, splat(0))); }

@inline function signed(size: v128, v: v128): v128 { return v128.or(size, v128.and(v, i32x4.splat(<i32>0x80000000))); }
@inline function sizeOf(v: v128): v128 { return f32x4.abs(v); }

/** A first guess at a root of lanes above 0, within 4 %: the exponent's share by whole numbers (256 of a bit pattern's steps at a time). */
@inline function guess(x: v128, share: f32, bias: i32): v128 {
  const steps = add(mul(f32x4.convert_i32x4_s(i32x4.shr_u(x, 8)), splat(share)), splat(MAGIC));
  return i32x4.add(i32x4.shl(i32x4.sub(steps, i32x4.splat(0x4b400000)), 8), i32x4.splat(bias));
}

/** Halley's steps towards a root: each cubes what the last one was off by, so that two reach float32. */
@inline function nearerCube(y: v128, x: v128): v128 {
  const c = mul(mul(y, y), y);
  return mul(y, div(add(c, add(x, x)), add(add(c, c), x)));
}
@inline function nearerFifth(y: v128, x: v128): v128 {
  const q = mul(y, y), c = mul(mul(q, q), y);
  return mul(y, div(add(add(c, c), mul(splat(3), x)), add(mul(splat(3), c), add(x, x))));
}

@inline function above(x: v128): v128 { return most(x, splat(1e-30)); }
@inline function cubeRoot(x: v128): v128 { return nearerCube(nearerCube(guess(x, 1.0 / 3, 709982083), x), x); }
@inline function fifthRoot(x: v128): v128 { return nearerFifth(nearerFifth(guess(x, 1.0 / 5, 851978500), x), x); }

/** x^2.4 is x^2 times the square of the fifth root. */
@inline function decoded(v: v128): v128 {
  const a = sizeOf(v), x = mul(add(a, splat(0.055)), splat(1.0 / 1.055)), r = mul(x, fifthRoot(x));
  return signed(v128.bitselect(mul(a, splat(1.0 / 12.92)), mul(r, r), f32x4.le(a, splat(0.04045))), v);
}

/** x^(1 / 2.4) is the cube root times its own fourth root. */
@inline function encoded(v: v128): v128 {
  const a = sizeOf(v), c = cubeRoot(above(a)), curved = sub(mul(splat(1.055), mul(c, f32x4.sqrt(f32x4.sqrt(c)))), splat(0.055));
  return signed(v128.bitselect(mul(a, splat(12.92)), curved, f32x4.le(a, splat(0.0031308))), v);
}

const LINEAR = 0, ENCODED = 1, OKLAB = 2, OKLAB_BACK = 3, RAISE = 4, LIST = 5, P3_OKLAB = 6, P3_OKLAB_BACK = 7, NARROW = 8, ROLL_OFF = 9;

/** Three planes, each times its share. */
@inline function three(x: v128, y: v128, z: v128, a: f32, b: f32, c: f32): v128 { return add(add(mul(x, splat(a)), mul(y, splat(b))), mul(z, splat(c))); }
@inline function root(v: v128): v128 {
  const a = sizeOf(v);
  return signed(v128.and(cubeRoot(above(a)), f32x4.gt(a, splat(0))), v);
}
/** The same of lanes that are not below 0. */
@inline function plainRoot(v: v128): v128 { return cubeRoot(above(v)); }

/** By how much values may be outside 0..1 that are looked up all the same: rounding, and no more than the tables err by. */
const BELOW: f32 = 1e-7, ABOVE: f32 = 1e-6;
@inline function inside(v: v128): v128 { return v128.and(f32x4.ge(v, splat(-BELOW)), f32x4.le(v, splat(1 + ABOVE))); }
@inline function allInside(x: v128, y: v128, z: v128): bool { return i32x4.all_true(v128.and(inside(x), v128.and(inside(y), inside(z)))); }

/** What a table says of lanes inside it; of the others, what was worked out. */
@inline function lookedOr(worked: v128, v: v128, table: usize, spare: usize): v128 { return v128.bitselect(lookUp4(v, table, spare), worked, inside(v)); }

@inline function held01(v: v128): v128 { return least(most(v, splat(0)), splat(1)); }

/** How colours come inside sRGB (`gamut.ts` of the core tells the way): the knee, where what is beyond comes to its edge, how far they go towards middle grey, and the table's steps. */
const KNEE: f32 = 0.9, WIDEST: f32 = 1.5, TOWARDS_MIDDLE: f32 = 0.2;
const LIGHTS: i32 = 64, HUES: i32 = 360, HALVINGS = 12;
/** A colour of which this multiple of its chroma is inside needs no closer look. */
const SURELY: f32 = 2;
/** By how much linear values may be beyond 0..1 and still count as inside. */
const EDGE: f32 = 1e-5;

@inline function within(v: v128): v128 { return v128.and(f32x4.ge(v, splat(-EDGE)), f32x4.le(v, splat(1 + EDGE))); }
/** Lanes whose OKLab colour lies inside sRGB. */
@inline function spared(light: v128, a: v128, b: v128): v128 {
  let l = three(light, a, b, 0.9999999985, 0.3963377922, 0.2158037581), m = three(light, a, b, 1.0000000089, -0.1055613423, -0.0638541748), k = three(light, a, b, 1.0000000547, -0.0894841821, -1.2914855379);
  l = mul(mul(l, l), l); m = mul(mul(m, m), m); k = mul(mul(k, k), k);
  const red = three(l, m, k, 4.0767416613, -3.3077115904, 0.2309699287), green = three(l, m, k, -1.2684380041, 2.6097574007, -0.3413193963), blue = three(l, m, k, -0.0041960865, -0.7034186145, 1.7076147009);
  return v128.and(within(red), v128.and(within(green), within(blue)));
}

/** The last colour that was worked out alone: linear red, green and blue. */
let nearR: f32 = 0, nearG: f32 = 0, nearB: f32 = 0;
function ofOklab(light: f32, a: f32, b: f32): void {
  let l: f32 = light + <f32>0.3963377922 * a + <f32>0.2158037581 * b, m: f32 = light - <f32>0.1055613423 * a - <f32>0.0638541748 * b, k: f32 = light - <f32>0.0894841821 * a - <f32>1.2914855379 * b;
  l = l * l * l; m = m * m * m; k = k * k * k;
  nearR = <f32>4.0767416613 * l - <f32>3.3077115904 * m + <f32>0.2309699287 * k; nearG = <f32>-1.2684380041 * l + <f32>2.6097574007 * m - <f32>0.3413193963 * k; nearB = <f32>-0.0041960865 * l - <f32>0.7034186145 * m + <f32>1.7076147009 * k;
}
@inline function unit(v: f32): f32 { return max<f32>(0, min<f32>(1, v)); }

/** The chroma that sRGB holds at a lightness and an angle 0..4, by the table at `at`. */
function chromaAt(at: usize, light: f32, around: f32): f32 {
  const y: f32 = unit(light) * <f32>LIGHTS, x: f32 = around * <f32>(HUES / 4);
  const l = min<i32>(LIGHTS - 1, <i32>y), i = min<i32>(HUES - 1, <i32>x);
  const p = at + (<usize>(l * (HUES + 1) + i) << 2), q = p + <usize>(4 * (HUES + 1));
  const fx: f32 = x - <f32>i, low: f32 = load<f32>(p) + (load<f32>(p + 4) - load<f32>(p)) * fx, high: f32 = load<f32>(q) + (load<f32>(q + 4) - load<f32>(q)) * fx;
  return low + (high - low) * (y - <f32>l);
}

/** A colour moved towards a grey near its own lightness, where sRGB does not hold it. False where it stays as it is. */
function narrowed(lightness: f32, a: f32, b: f32, at: usize): bool {
  const light = unit(lightness), chroma: f32 = sqrt(a * a + b * b), size: f32 = max<f32>(abs(a) + abs(b), 1e-12), around: f32 = b >= 0 ? 1 - a / size : 3 + a / size;
  const off: f32 = light - 0.5, reach: f32 = <f32>0.5 + abs(off) + TOWARDS_MIDDLE * chroma;
  const way: f32 = reach - sqrt(max<f32>(0, reach * reach - 2 * abs(off))), grey: f32 = <f32>0.5 * (1 + (off < 0 ? -way : way));
  let inner: f32 = 0, outer: f32 = 1 / KNEE, low: f32 = -chromaAt(at, grey, around), high: f32 = chroma * outer - chromaAt(at, grey + outer * (light - grey), around);
  if (high <= 0) return false;
  let left = HALVINGS;
  do {
    const middle: f32 = (inner + outer) * <f32>0.5, beyond: f32 = chroma * middle - chromaAt(at, grey + middle * (light - grey), around);
    if (beyond < 0) { inner = middle; low = beyond; } else { outer = middle; high = beyond; }
  } while (--left > 0);
  const edge: f32 = max<f32>(1e-6, inner + (outer - inner) * unit(-low / max<f32>(1e-9, high - low)));
  // How far the colour is beyond the knee, 0..1 of the way to the widest, and where that comes to lie between knee and edge.
  const most: f32 = (WIDEST - KNEE) / (1 - KNEE), x: f32 = min<f32>(most, max<f32>(0, (1 / edge - KNEE) / (1 - KNEE)));
  const share: f32 = edge * (KNEE + (1 - KNEE) * (x * (1 + x / (most * most)) / (1 + x)));
  ofOklab(grey + share * (light - grey), a * share, b * share);
  nearR = unit(nearR); nearG = unit(nearG); nearB = unit(nearB);
  return true;
}

/**
 * Work on four pixels at a time, turned so that red, green and blue lie in vectors of their own: powers then waste no lane on alpha, and the constants of
 * their series serve three of them.
 */
@inline function planes(op: i32, d: usize, s: usize, n: i32, pre: f32, p: f32, post: f32, at: usize): void {
  const end = s + (<usize>n << 4);
  do {
    const p0 = px(s), p1 = px(s + 16), p2 = px(s + 32), p3 = px(s + 48);
    const lowA = v128.shuffle<i32>(p0, p1, 0, 4, 1, 5), lowB = v128.shuffle<i32>(p2, p3, 0, 4, 1, 5), highA = v128.shuffle<i32>(p0, p1, 2, 6, 3, 7), highB = v128.shuffle<i32>(p2, p3, 2, 6, 3, 7);
    let x = v128.shuffle<i32>(lowA, lowB, 0, 1, 4, 5), y = v128.shuffle<i32>(lowA, lowB, 2, 3, 6, 7), z = v128.shuffle<i32>(highA, highB, 0, 1, 4, 5);
    const alpha = v128.shuffle<i32>(highA, highB, 2, 3, 6, 7);
    // Each value is looked up or worked out by itself alone, whatever lies beside it.
    const looked = (op == LINEAR || op == OKLAB || op == P3_OKLAB) && at != 0 && allInside(x, y, z);
    if (looked) { x = lookUp4(x, at, d); y = lookUp4(y, at, d); z = lookUp4(z, at, d); }
    else if (op == LINEAR || op == OKLAB || op == P3_OKLAB) {
      if (at == 0) { x = decoded(x); y = decoded(y); z = decoded(z); }
      else {
        x = lookedOr(decoded(x), x, at, d); y = lookedOr(decoded(y), y, at, d); z = lookedOr(decoded(z), z, at, d);
      }
    }
    if (op == OKLAB || op == P3_OKLAB) {
      let l: v128, m: v128, k: v128;
      if (op == OKLAB) { l = three(x, y, z, 0.4122214708, 0.5363325363, 0.0514459929); m = three(x, y, z, 0.2119034982, 0.6806995451, 0.1073969566); k = three(x, y, z, 0.0883024619, 0.2817188376, 0.6299787005); }
      else { l = three(x, y, z, 0.4813798544, 0.4621183697, 0.0565017758); m = three(x, y, z, 0.2288319449, 0.6532168128, 0.1179512422); k = three(x, y, z, 0.0839457557, 0.2241652689, 0.6918889754); }
      if (looked) { l = plainRoot(l); m = plainRoot(m); k = plainRoot(k); }
      else { l = root(l); m = root(m); k = root(k); }
      x = three(l, m, k, 0.2104542553, 0.7936177850, -0.0040720468); y = three(l, m, k, 1.9779984951, -2.4285922050, 0.4505937099); z = three(l, m, k, 0.0259040371, 0.7827717662, -0.8086757660);
    }
    if (op == OKLAB_BACK || op == P3_OKLAB_BACK) {
      // The inverses of the matrices above, to ten figures.
      let l = three(x, y, z, 0.9999999985, 0.3963377922, 0.2158037581), m = three(x, y, z, 1.0000000089, -0.1055613423, -0.0638541748), k = three(x, y, z, 1.0000000547, -0.0894841821, -1.2914855379);
      l = mul(mul(l, l), l); m = mul(mul(m, m), m); k = mul(mul(k, k), k);
      if (op == OKLAB_BACK) { x = three(l, m, k, 4.0767416613, -3.3077115904, 0.2309699287); y = three(l, m, k, -1.2684380041, 2.6097574007, -0.3413193963); z = three(l, m, k, -0.0041960865, -0.7034186145, 1.7076147009); }
      else { x = three(l, m, k, 3.1277689867, -2.2571357955, 0.1293668086); y = three(l, m, k, -1.0910090474, 2.4133317583, -0.3223227107); z = three(l, m, k, -0.0260108132, -0.5080413257, 1.5340521389); }
    }
    if (op == NARROW) {
      x = held01(x); y = held01(y); z = held01(z);
      const l = root(three(x, y, z, 0.4813798544, 0.4621183697, 0.0565017758)), m = root(three(x, y, z, 0.2288319449, 0.6532168128, 0.1179512422)), k = root(three(x, y, z, 0.0839457557, 0.2241652689, 0.6918889754));
      const light = three(l, m, k, 0.2104542553, 0.7936177850, -0.0040720468), a = three(l, m, k, 1.9779984951, -2.4285922050, 0.4505937099), b = three(l, m, k, 0.0259040371, 0.7827717662, -0.8086757660);
      const red = three(x, y, z, 1.2249401763, -0.2249401763, 0), green = three(x, y, z, -0.0420569547, 1.0420569547, 0), blue = three(x, y, z, -0.0196375546, -0.0786360456, 1.0982736001);
      const plain = spared(light, mul(a, splat(SURELY)), mul(b, splat(SURELY)));
      x = red; y = green; z = blue;
      if (!i32x4.all_true(plain)) {
        if (i32x4.extract_lane(plain, 0) == 0 && narrowed(f32x4.extract_lane(light, 0), f32x4.extract_lane(a, 0), f32x4.extract_lane(b, 0), at)) { x = f32x4.replace_lane(x, 0, nearR); y = f32x4.replace_lane(y, 0, nearG); z = f32x4.replace_lane(z, 0, nearB); }
        if (i32x4.extract_lane(plain, 1) == 0 && narrowed(f32x4.extract_lane(light, 1), f32x4.extract_lane(a, 1), f32x4.extract_lane(b, 1), at)) { x = f32x4.replace_lane(x, 1, nearR); y = f32x4.replace_lane(y, 1, nearG); z = f32x4.replace_lane(z, 1, nearB); }
        if (i32x4.extract_lane(plain, 2) == 0 && narrowed(f32x4.extract_lane(light, 2), f32x4.extract_lane(a, 2), f32x4.extract_lane(b, 2), at)) { x = f32x4.replace_lane(x, 2, nearR); y = f32x4.replace_lane(y, 2, nearG); z = f32x4.replace_lane(z, 2, nearB); }
        if (i32x4.extract_lane(plain, 3) == 0 && narrowed(f32x4.extract_lane(light, 3), f32x4.extract_lane(a, 3), f32x4.extract_lane(b, 3), at)) { x = f32x4.replace_lane(x, 3, nearR); y = f32x4.replace_lane(y, 3, nearG); z = f32x4.replace_lane(z, 3, nearB); }
      }
    }
    if ((op == ENCODED || op == OKLAB_BACK || op == P3_OKLAB_BACK) && at != 0 && allInside(x, y, z)) { x = lookUp4(x, at, d); y = lookUp4(y, at, d); z = lookUp4(z, at, d); }
    else if (op == ENCODED || op == OKLAB_BACK || op == P3_OKLAB_BACK) {
      if (at == 0) { x = encoded(x); y = encoded(y); z = encoded(z); }
      else {
        x = lookedOr(encoded(x), x, at, d); y = lookedOr(encoded(y), y, at, d); z = lookedOr(encoded(z), z, at, d);
      }
    }
    if (op == ROLL_OFF) {
      // `pre` is the knee, `p` how far beyond it white lies, in shares of what is left above it.
      const largest = most(x, most(y, z)), over = least(div(sub(largest, splat(pre)), splat(1 - pre)), splat(p));
      const rolled = add(splat(pre), mul(splat(1 - pre), div(mul(over, add(splat(1), mul(over, splat(1 / (p * p))))), add(splat(1), over))));
      const share = v128.bitselect(div(rolled, most(largest, splat(1e-6))), splat(1), f32x4.gt(largest, splat(pre)));
      x = mul(x, share); y = mul(y, share); z = mul(z, share);
    }
    if (op == RAISE) {
      x = mul(splat(post), power(mul(x, splat(pre)), splat(p))); y = mul(splat(post), power(mul(y, splat(pre)), splat(p))); z = mul(splat(post), power(mul(z, splat(pre)), splat(p)));
    }
    if (op == LIST) {
      x = power(held01(add(mul(x, each(at)), each(at + 16))), each(at + 32)); y = power(held01(add(mul(y, each(at + 4)), each(at + 20))), each(at + 36));
      z = power(held01(add(mul(z, each(at + 8)), each(at + 24))), each(at + 40));
      const grey = three(x, y, z, 0.2126, 0.7152, 0.0722), k = each(at + 48);
      x = add(grey, mul(sub(x, grey), k)); y = add(grey, mul(sub(y, grey), k)); z = add(grey, mul(sub(z, grey), k));
    }
    const xyA = v128.shuffle<i32>(x, y, 0, 4, 1, 5), xyB = v128.shuffle<i32>(x, y, 2, 6, 3, 7), zaA = v128.shuffle<i32>(z, alpha, 0, 4, 1, 5), zaB = v128.shuffle<i32>(z, alpha, 2, 6, 3, 7);
    put(d, v128.shuffle<i32>(xyA, zaA, 0, 1, 4, 5)); put(d + 16, v128.shuffle<i32>(xyA, zaA, 2, 3, 6, 7));
    put(d + 32, v128.shuffle<i32>(xyB, zaB, 0, 1, 4, 5)); put(d + 48, v128.shuffle<i32>(xyB, zaB, 2, 3, 6, 7));
    s += 64; d += 64;
  } while (s < end);
}

/**
 * Encoded values to linear light (IEC 61966-2-1). `table` is a tone table of the same, or 0: values in 0..1 are looked up in it, which takes half the time.
 */
export function toLinear(d: usize, s: usize, n: i32, table: usize): void { planes(LINEAR, d, s, n, 0, 0, 0, table); }
/** Linear light to encoded values; `table` as in `toLinear`, of encoding. */
export function fromLinear(d: usize, s: usize, n: i32, table: usize): void { planes(ENCODED, d, s, n, 0, 0, 0, table); }
/** Encoded values to OKLab (B. Ottosson 2020): lightness, a, b; `table` as in `toLinear`. */
export function toOklab(d: usize, s: usize, n: i32, table: usize): void { planes(OKLAB, d, s, n, 0, 0, 0, table); }
/** OKLab to encoded values; `table` as in `fromLinear`. */
export function fromOklab(d: usize, s: usize, n: i32, table: usize): void { planes(OKLAB_BACK, d, s, n, 0, 0, 0, table); }
/** `toOklab` and `fromOklab` of values encoded as sRGB is, with the primaries of Display P3. */
export function toOklabP3(d: usize, s: usize, n: i32, table: usize): void { planes(P3_OKLAB, d, s, n, 0, 0, 0, table); }
export function fromOklabP3(d: usize, s: usize, n: i32, table: usize): void { planes(P3_OKLAB_BACK, d, s, n, 0, 0, 0, table); }
/** Linear Display P3 to linear sRGB: what that cannot hold comes inside at its hue. `table`: the chroma that sRGB holds, by lightness and hue. */
export function narrow(d: usize, s: usize, n: i32, table: usize): void { planes(NARROW, d, s, n, 0, 0, 0, table); }
/** Linear light brighter than `knee` brought under white, red, green and blue alike, by the largest of them: `room` becomes 1 (E. Reinhard et al. 2002, equation 4). 0 < knee < 1 < room. */
export function rollOff(d: usize, s: usize, n: i32, knee: f32, room: f32): void { planes(ROLL_OFF, d, s, n, knee, (room - knee) / (1 - knee), 0, 0); }
/** post (pre v)^p for each channel; nothing below 0. */
export function raise(d: usize, s: usize, n: i32, pre: f32, p: f32, post: f32): void { planes(RAISE, d, s, n, pre, p, post, 0); }
/** ASC CDL 1.2: (v slope + offset) held in 0..1, to a power, then saturation about Rec. 709 luma. `at`: slope, offset, power, four floats each; saturation. */
export function cdl(d: usize, s: usize, n: i32, at: usize): void { planes(LIST, d, s, n, 0, 0, 0, at); }

@inline function times(v: v128, a: v128, b: v128, c: v128): v128 {
  const x = v128.shuffle<i32>(v, v, 0, 0, 0, 0), y = v128.shuffle<i32>(v, v, 1, 1, 1, 1), z = v128.shuffle<i32>(v, v, 2, 2, 2, 2);
  return add(add(mul(x, a), mul(y, b)), mul(z, c));
}

/** Colour through a 3 x 3 matrix and an offset: `at` holds the images of red, green and blue, then the offset, four floats each. */
export function matrix(d: usize, s: usize, n: i32, at: usize): void {
  const r = px(at), g = px(at + 16), b = px(at + 32), o = px(at + 48), end = s + (<usize>n << 4);
  do { const v = px(s); put(d, withAlpha(add(times(v, r, g, b), o), v)); s += 16; d += 16; } while (s < end);
}

/** The same on RGB rows. Four bytes past n may be written. */
export function matrixRgbRows(d: usize, s: usize, n: i32, at: usize): void {
  const r = px(at), g = px(at + 16), b = px(at + 32), o = px(at + 48), end = s + <usize>(12 * n);
  let v = px(s);
  // The fourth lane falls on the next one's red: that is read first, for `d` may be `s`.
  do { const next = px(s + 12); put(d, add(times(v, r, g, b), o)); v = next; s += 12; d += 12; } while (s < end);
}

/** Premultiplied to straight colour with its alpha, and back. */
export function part(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do {
    const v = px(s), a = v128.shuffle<i32>(v, v, 3, 3, 3, 3);
    put(d, withAlpha(v128.and(div(v, most(a, splat(1e-20))), f32x4.gt(a, splat(0))), v));
    s += 16; d += 16;
  } while (s < end);
}
export function unite(d: usize, s: usize, n: i32): void {
  const end = s + (<usize>n << 4);
  do { const v = px(s); put(d, withAlpha(mul(v, v128.shuffle<i32>(v, v, 3, 3, 3, 3)), v)); s += 16; d += 16; } while (s < end);
}
