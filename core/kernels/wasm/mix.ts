/*
 * Mixing a layer's result with what is beneath it: W3C Compositing and Blending Level 1, sections 5.1, 9 and 10; and nine more of the trade.
 *
 *   mixed = (1 - ab) s + as ab B(Cb, Cs) + keep (1 - as) b     alpha: as + keep ab (1 - as)
 *   out   = b + (mixed - b) * amount
 *
 * s and b are premultiplied, Cs and Cb straight. With keep 1 the layer lies over the backdrop (source over); with keep 0 it takes the
 * backdrop's place (copy), as a layer must that was made from the backdrop itself.
 *
 * Each mode has an opaque form, in which B alone remains, and a form with alpha. `coverage` is 0 or one float a pixel, which then
 * stands in place of `k`. One pixel past n may be written. In the opaque form `last` is what stands in place of `k` for the fourth lane: 0 for pixels,
 * k where each vector is four channels out of RGB rows, of which a mode that looks at whole colours can make nothing. `inside` says that all lies in 0..1: then
 * nothing has to be held there.
 */
// @ts-nocheck
import { add, alphaOf, div, each, least, most, mul, px, put, splat, straight, sub, unit, withAlpha } from './lanes';

const NORMAL = 0, MULTIPLY = 1, SCREEN = 2, OVERLAY = 3, DARKEN = 4, LIGHTEN = 5, DODGE = 6, BURN = 7, HARD = 8, SOFT = 9, DIFFERENCE = 10,
  EXCLUSION = 11, HUE = 12, SATURATION = 13, COLOUR = 14, LUMINOSITY = 15, ADD = 16, DEEPEN = 17, PUSH = 18, ETCH = 19, OUTDO = 20, SUBTRACT = 21, DIVIDE = 22, DARKER = 23,
  LIGHTER = 24;

@inline function when(mask: v128, yes: v128, no: v128): v128 { return v128.bitselect(yes, no, mask); }
@inline function screened(b: v128, s: v128): v128 { return sub(add(b, s), mul(b, s)); }

/** Overlay is hard light with its layers swapped. */
@inline function hardLight(b: v128, s: v128): v128 {
  const twice = add(s, s);
  return when(f32x4.le(s, splat(0.5)), mul(b, twice), screened(b, sub(twice, splat(1))));
}

@inline function softLight(b: v128, s: v128): v128 {
  const k = sub(add(s, s), splat(1)), dark = sub(b, mul(b, b));
  const low = mul(add(mul(sub(mul(splat(16), b), splat(12)), b), splat(4)), b);
  const bright = sub(when(f32x4.le(b, splat(0.25)), low, f32x4.sqrt(b)), b);
  return add(b, mul(k, when(f32x4.le(k, splat(0)), dark, bright)));
}

@inline function dodge(b: v128, s: v128): v128 {
  const lit = least(splat(1), div(b, most(sub(splat(1), s), splat(1e-20))));
  return v128.and(f32x4.gt(b, splat(0)), when(f32x4.ge(s, splat(1)), splat(1), lit));
}

@inline function burn(b: v128, s: v128): v128 {
  const burnt = sub(splat(1), least(splat(1), div(sub(splat(1), b), most(s, splat(1e-20)))));
  return when(f32x4.ge(b, splat(1)), splat(1), v128.and(f32x4.gt(s, splat(0)), burnt));
}

@inline function lum(r: f32, g: f32, b: f32): f32 { return <f32>0.3 * r + <f32>0.59 * g + <f32>0.11 * b; }

@inline function lumOf(v: v128): f32 { return lum(f32x4.extract_lane(v, 0), f32x4.extract_lane(v, 1), f32x4.extract_lane(v, 2)); }

/** SetLum of section 10: the colour moved to a luminosity, then pulled into gamut. */
function setLum(r: f32, g: f32, b: f32, l: f32): v128 {
  const shift = l - lum(r, g, b);
  r += shift; g += shift; b += shift;
  const at = lum(r, g, b), low = min<f32>(r, min<f32>(g, b)), high = max<f32>(r, max<f32>(g, b));
  // Of a grey that rounding has put a hair outside, nothing is left to be pulled in.
  if (low < 0 && at > low) {
    const k: f32 = at / (at - low);
    r = at + (r - at) * k; g = at + (g - at) * k; b = at + (b - at) * k;
  }
  if (high > 1 && high > at) {
    const k: f32 = (1 - at) / (high - at);
    r = at + (r - at) * k; g = at + (g - at) * k; b = at + (b - at) * k;
  }
  return f32x4(r, g, b, 0);
}

@inline function spread(r: f32, g: f32, b: f32): f32 { return max<f32>(r, max<f32>(g, b)) - min<f32>(r, min<f32>(g, b)); }

/** Spread of colours next to grey, whose hue rounding decides. */
const NEAR_GREY: f32 = 1.0 / 4096;

/**
 * SetSat of section 10 is a stretch from the least channel: the least goes to 0, the greatest to the new saturation; the less of it, the greyer what is next
 * to grey.
 */
function whole(mode: i32, b: v128, s: v128): v128 {
  const br = f32x4.extract_lane(b, 0), bg = f32x4.extract_lane(b, 1), bb = f32x4.extract_lane(b, 2);
  const sr = f32x4.extract_lane(s, 0), sg = f32x4.extract_lane(s, 1), sb = f32x4.extract_lane(s, 2);
  if (mode == COLOUR) return setLum(sr, sg, sb, lum(br, bg, bb));
  if (mode == LUMINOSITY) return setLum(br, bg, bb, lum(sr, sg, sb));
  const hueOf = mode == HUE;
  const r = hueOf ? sr : br, g = hueOf ? sg : bg, u = hueOf ? sb : bb;
  const now = spread(r, g, u), sat = hueOf ? spread(br, bg, bb) : spread(sr, sg, sb);
  const k: f32 = now < NEAR_GREY ? sat * now * <f32>16777216 : sat / now, low = min<f32>(r, min<f32>(g, u));
  return setLum((r - low) * k, (g - low) * k, (u - low) * k, lum(br, bg, bb));
}

/** Whether a mode makes something of what lies beyond 0..1. */
@inline function minds(mode: i32): bool { return mode == NORMAL || mode == DARKEN || mode == LIGHTEN; }

@inline function formula(mode: i32, b: v128, s: v128, inside: bool): v128 {
  if (mode == NORMAL) return s;
  if (mode == DARKEN) return least(b, s);
  if (mode == LIGHTEN) return most(b, s);
  if (!inside) { b = unit(b); s = unit(s); }
  if (mode == MULTIPLY) return mul(b, s);
  if (mode == SCREEN) return screened(b, s);
  if (mode == OVERLAY) return hardLight(s, b);
  if (mode == DODGE) return dodge(b, s);
  if (mode == BURN) return burn(b, s);
  if (mode == HARD) return hardLight(b, s);
  if (mode == SOFT) return softLight(b, s);
  if (mode == DIFFERENCE) return f32x4.abs(sub(b, s));
  if (mode == EXCLUSION) return sub(add(b, s), mul(splat(2), mul(b, s)));
  const twice = add(s, s), one = splat(1), low = f32x4.le(s, splat(0.5));
  if (mode == ADD) return least(add(b, s), one);
  if (mode == DEEPEN) return most(sub(add(b, s), one), splat(0));
  if (mode == PUSH) return unit(sub(add(b, twice), one));
  if (mode == ETCH) return when(low, burn(b, twice), dodge(b, sub(twice, one)));
  if (mode == OUTDO) return when(low, least(b, twice), most(b, sub(twice, one)));
  if (mode == SUBTRACT) return most(sub(b, s), splat(0));
  if (mode == DIVIDE) return v128.and(f32x4.gt(b, splat(0)), least(one, div(b, most(s, splat(1e-20)))));
  if (mode == DARKER) return lumOf(b) <= lumOf(s) ? b : s;
  if (mode == LIGHTER) return lumOf(b) >= lumOf(s) ? b : s;
  return whole(mode, b, s);
}

@inline function step(mode: i32, d: usize, b: usize, s: usize, amount: v128, inside: bool): void {
  const under = px(b);
  put(d, add(under, mul(sub(formula(mode, under, px(s), inside), under), amount)));
}

/** An amount for the colours; alpha stays. */
@inline function colours(amount: v128): v128 { return f32x4.replace_lane(amount, 3, 0); }

@inline function row(mode: i32, d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void {
  const end = b + (<usize>n << 4);
  if (coverage) {
    do {
      step(mode, d, b, s, colours(each(coverage)), inside);
      step(mode, d + 16, b + 16, s + 16, colours(each(coverage + 4)), inside);
      b += 32; s += 32; d += 32; coverage += 8;
    } while (b < end);
    return;
  }
  const t = f32x4.replace_lane(splat(k), 3, last);
  do {
    step(mode, d, b, s, t, inside);
    step(mode, d + 16, b + 16, s + 16, t, inside);
    b += 32; s += 32; d += 32;
  } while (b < end);
}

@inline function run(mode: i32, d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void {
  if (inside && !minds(mode)) row(mode, d, b, s, n, k, coverage, last, true);
  else row(mode, d, b, s, n, k, coverage, last, false);
}

@inline function runAlpha(mode: i32, d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void {
  const end = b + (<usize>n << 4), one = splat(1), kept = splat(keep);
  do {
    const under = px(b), over = px(s), ab = alphaOf(under), as = alphaOf(over), both = mul(ab, as);
    const lit = mul(both, formula(mode, straight(under, ab), straight(over, as), false));
    const colour = add(add(mul(sub(one, ab), over), lit), mul(kept, mul(sub(one, as), under)));
    const mixed = withAlpha(colour, add(as, mul(kept, sub(ab, both))));
    put(d, add(under, mul(sub(mixed, under), coverage ? each(coverage) : splat(k))));
    b += 16; s += 16; d += 16;
    if (coverage) coverage += 4;
  } while (b < end);
}

export function mixNormal(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(NORMAL, d, b, s, n, k, coverage, last, inside); }
export function mixNormalAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(NORMAL, d, b, s, n, k, coverage, keep); }
export function mixMultiply(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(MULTIPLY, d, b, s, n, k, coverage, last, inside); }
export function mixMultiplyAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(MULTIPLY, d, b, s, n, k, coverage, keep); }
export function mixScreen(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(SCREEN, d, b, s, n, k, coverage, last, inside); }
export function mixScreenAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(SCREEN, d, b, s, n, k, coverage, keep); }
export function mixOverlay(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(OVERLAY, d, b, s, n, k, coverage, last, inside); }
export function mixOverlayAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(OVERLAY, d, b, s, n, k, coverage, keep); }
export function mixDarken(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(DARKEN, d, b, s, n, k, coverage, last, inside); }
export function mixDarkenAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(DARKEN, d, b, s, n, k, coverage, keep); }
export function mixLighten(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(LIGHTEN, d, b, s, n, k, coverage, last, inside); }
export function mixLightenAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(LIGHTEN, d, b, s, n, k, coverage, keep); }
export function mixColorDodge(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(DODGE, d, b, s, n, k, coverage, last, inside); }
export function mixColorDodgeAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(DODGE, d, b, s, n, k, coverage, keep); }
export function mixColorBurn(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(BURN, d, b, s, n, k, coverage, last, inside); }
export function mixColorBurnAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(BURN, d, b, s, n, k, coverage, keep); }
export function mixHardLight(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(HARD, d, b, s, n, k, coverage, last, inside); }
export function mixHardLightAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(HARD, d, b, s, n, k, coverage, keep); }
export function mixSoftLight(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(SOFT, d, b, s, n, k, coverage, last, inside); }
export function mixSoftLightAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(SOFT, d, b, s, n, k, coverage, keep); }
export function mixDifference(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(DIFFERENCE, d, b, s, n, k, coverage, last, inside); }
export function mixDifferenceAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(DIFFERENCE, d, b, s, n, k, coverage, keep); }
export function mixExclusion(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(EXCLUSION, d, b, s, n, k, coverage, last, inside); }
export function mixExclusionAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(EXCLUSION, d, b, s, n, k, coverage, keep); }
export function mixHue(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(HUE, d, b, s, n, k, coverage, last, inside); }
export function mixHueAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(HUE, d, b, s, n, k, coverage, keep); }
export function mixSaturation(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(SATURATION, d, b, s, n, k, coverage, last, inside); }
export function mixSaturationAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(SATURATION, d, b, s, n, k, coverage, keep); }
export function mixColor(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(COLOUR, d, b, s, n, k, coverage, last, inside); }
export function mixColorAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(COLOUR, d, b, s, n, k, coverage, keep); }
export function mixLuminosity(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(LUMINOSITY, d, b, s, n, k, coverage, last, inside); }
export function mixLuminosityAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(LUMINOSITY, d, b, s, n, k, coverage, keep); }
export function mixAdd(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(ADD, d, b, s, n, k, coverage, last, inside); }
export function mixAddAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(ADD, d, b, s, n, k, coverage, keep); }
export function mixDeepen(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(DEEPEN, d, b, s, n, k, coverage, last, inside); }
export function mixDeepenAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(DEEPEN, d, b, s, n, k, coverage, keep); }
export function mixPush(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(PUSH, d, b, s, n, k, coverage, last, inside); }
export function mixPushAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(PUSH, d, b, s, n, k, coverage, keep); }
export function mixEtch(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(ETCH, d, b, s, n, k, coverage, last, inside); }
export function mixEtchAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(ETCH, d, b, s, n, k, coverage, keep); }
export function mixOutdo(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(OUTDO, d, b, s, n, k, coverage, last, inside); }
export function mixOutdoAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(OUTDO, d, b, s, n, k, coverage, keep); }
export function mixSubtract(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(SUBTRACT, d, b, s, n, k, coverage, last, inside); }
export function mixSubtractAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(SUBTRACT, d, b, s, n, k, coverage, keep); }
export function mixDivide(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(DIVIDE, d, b, s, n, k, coverage, last, inside); }
export function mixDivideAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(DIVIDE, d, b, s, n, k, coverage, keep); }
export function mixDarkerOfTwo(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(DARKER, d, b, s, n, k, coverage, last, inside); }
export function mixDarkerOfTwoAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(DARKER, d, b, s, n, k, coverage, keep); }
export function mixLighterOfTwo(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, last: f32, inside: bool): void { run(LIGHTER, d, b, s, n, k, coverage, last, inside); }
export function mixLighterOfTwoAlpha(d: usize, b: usize, s: usize, n: i32, k: f32, coverage: usize, keep: f32): void { runAlpha(LIGHTER, d, b, s, n, k, coverage, keep); }
