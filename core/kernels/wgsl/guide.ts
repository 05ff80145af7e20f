import type { Shaders } from './shaders';

/** As wasm/guide.ts and spread.ts. */
export const guide = {
  helpers: /* wgsl */ `
fn shaded_(v: f32, t: u32) -> f32 {
  let at = unit(v) * 1023.0;
  let i = floor(at);
  return mix(tab(t + u32(i)), tab(t + u32(i) + 1u), at - i);
}
fn spreadOf(mean: f32, square: f32) -> f32 { return max(square - mean * mean, 0.0); }
`,
  ops: {
    moments: 'let y_ = luma(a.rgb); return vec4f(y_, y_ * y_, 0.0, a.a);',
    fitLine: `let s = spreadOf(a.x, a.y);
      let k = s / (s + num(n));
      return vec4f(k, a.x - k * a.x, 0.0, a.a);`,
    detail: `let y_ = luma(a.rgb);
      return vec4f(a.rgb + (y_ - (b.x * y_ + b.y)) * num(n), a.a);`,
    chromaMoments: `let y_ = luma(a.rgb);
      let c = a.rb - y_;
      return vec4f(c.x, c.x * c.x, c.y, c.y * c.y);`,
    fitColour: `let s = spreadOf(a.x, a.y) + spreadOf(a.z, a.w);
      let k = s / (s + num(n));
      return vec4f(k, a.x - k * a.x, k, a.z - k * a.z);`,
    smoothed: `let y_ = luma(a.rgb);
      let r = b.x * (a.r - y_) + b.y;
      let u = b.z * (a.b - y_) + b.w;
      return vec4f(y_ + r, y_ - (0.2126 * r + 0.0722 * u) / 0.7152, y_ + u, a.a);`,
    shade: 'return vec4f(shaded_(smallest(a.rgb), t), 0.0, 0.0, a.a);',
    shadeMoments: `let y_ = luma(a.rgb);
      let d = shaded_(b.x, t);
      return vec4f(y_, y_ * y_, d, d * y_);`,
    fitShade: `let k = (a.w - a.x * a.z) / (spreadOf(a.x, a.y) + num(n));
      return vec4f(k, a.z - k * a.x, 0.0, 1.0);`,
    clear: `let air = num(n + 1u);
      let share = (b.x * luma(a.rgb) + b.y) / air;
      let more = 1.0 / max(1.0 - num(n) * unit(share), 0.1) - 1.0;
      let least = smallest(a.rgb);
      let taken = max(air - least, 0.0) * more / max(0.72 * least, 1e-6);
      let by = 1.0 + more / sqrt(sqrt(1.0 + min(taken * taken * taken * taken, 1e30)));
      return vec4f((a.rgb - air) * by + air, a.a);`,
    sum: 'return vec4f(num(n) * a.rgb + num(n + 1u) * b.rgb, a.a);',
    shoulder: `let peak = largest(a.rgb);
      let knee = num(n);
      if (peak <= knee) { return a; }
      let over = peak - knee;
      return vec4f(a.rgb * ((knee + ((1.0 - knee) * over) / (1.0 - knee + over)) / peak), a.a);`,
    crisp: `let off = luma(a.rgb) - luma(b.rgb);
      let wanted = (num(n) * off * off) / (abs(off) + num(n + 1u) + 1e-9);
      let limit = select(num(n + 3u), num(n + 2u), off > 0.0);
      return vec4f(a.rgb + sign(off) * ((wanted * limit) / (wanted + limit + 1e-9)), a.a);`,
  },
} as const satisfies Shaders;
