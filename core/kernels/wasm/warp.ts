/*
 * Geometry: pixels made anew at places between those of a photo, in linear light, by cubic convolution (R. Keys 1981, a = -1/2), which passes through
 * the pixels themselves.
 */
// @ts-nocheck
import { add, held, mul, px, put, splat } from './lanes';

@inline function across(row: usize, a: usize, b: usize, c: usize, e: usize, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return add(add(mul(px(row + a), w0), mul(px(row + b), w1)), add(mul(px(row + c), w2), mul(px(row + e), w3)));
}

/** The four weights at t for the pixels before, at, after and two after. */
@inline function w0(t: f32): v128 { return splat(((<f32>-0.5 * t + 1) * t - <f32>0.5) * t); }
@inline function w1(t: f32): v128 { return splat((<f32>1.5 * t - <f32>2.5) * t * t + 1); }
@inline function w2(t: f32): v128 { return splat(((<f32>-1.5 * t + 2) * t + <f32>0.5) * t); }
@inline function w3(t: f32): v128 { return splat((<f32>0.5 * t - <f32>0.5) * t * t); }

/**
 * n pixels from an image of sw x sh pixels, whose border goes on: the first at (u / w, v / w), the next ones du, dv and dw on. Places are of pixels' middles:
 * (0, 0) is the middle of the first pixel.
 */
export function warp(d: usize, s: usize, sw: i32, sh: i32, n: i32, u: f64, v: f64, w: f64, du: f64, dv: f64, dw: f64): void {
  const stride = <usize>sw << 4, end = d + (<usize>n << 4);
  do {
    const x = u / w, y = v / w, fx = Math.floor(x), fy = Math.floor(y), tx = <f32>(x - fx), ty = <f32>(y - fy), i = <i32>fx, j = <i32>fy;
    const a = <usize>held(i - 1, sw) << 4, b = <usize>held(i, sw) << 4, c = <usize>held(i + 1, sw) << 4, e = <usize>held(i + 2, sw) << 4;
    const x0 = w0(tx), x1 = w1(tx), x2 = w2(tx), x3 = w3(tx);
    const top = across(s + <usize>held(j - 1, sh) * stride, a, b, c, e, x0, x1, x2, x3), here = across(s + <usize>held(j, sh) * stride, a, b, c, e, x0, x1, x2, x3);
    const next = across(s + <usize>held(j + 1, sh) * stride, a, b, c, e, x0, x1, x2, x3), last = across(s + <usize>held(j + 2, sh) * stride, a, b, c, e, x0, x1, x2, x3);
    put(d, add(add(mul(top, w0(ty)), mul(here, w1(ty))), add(mul(next, w2(ty)), mul(last, w3(ty)))));
    u += du; v += dv; w += dw; d += 16;
  } while (d < end);
}
