import type { Shaders } from './shaders';

/** As wasm/grain.ts, paper.ts, and the dust of wasm/spread.ts. */
export const film = {
  helpers: /* wgsl */ `
fn speck(column: i32, row: i32, seed: i32) -> vec4f {
  let h = scramble((u32(column) * 0x85ebca77u) ^ (u32(row) * 0x9e3779b1u) ^ u32(seed));
  return vec4f(f32(h & 255u), f32((h >> 8u) & 255u), f32((h >> 16u) & 255u), f32(h >> 24u)) * (2.0 / 255.0) - 1.0;
}
fn grained(a: vec4f, noise: vec4f, gain: f32, tint: f32, middle: f32) -> vec4f {
  let tone = unit(luma(a.rgb));
  let weight = gain * (1.0 - middle * (1.0 - 4.0 * tone * (1.0 - tone)));
  return vec4f(a.rgb + weight * (noise.w + (noise.xyz - noise.w) * tint), a.a);
}
fn share(h: u32) -> f32 { return f32(h & 0xffffu) / 65536.0; }
/** How strongly a hair or a speck covers a place, given from its own. */
fn covers(g: u32, k: u32, p: vec2f, size: f32, hairs: f32, width: f32, finest: f32) -> f32 {
  if (share(g >> 16u) < hairs) {
    let way = share(k) * 6.2831853;
    let along = p.x * cos(way) + p.y * sin(way);
    let bend = (share(scramble(k)) - 0.5) * 1.6;
    let aside = p.y * cos(way) - p.x * sin(way) - bend * along * along;
    let half_ = max(width, finest);
    let off = length(vec2f(max(abs(along) - (0.25 + 0.55 * share(k >> 16u)), 0.0), aside));
    return smooth_((half_ * 1.5 - off) / half_) * min(width / half_, 1.0);
  }
  let s = share(k);
  let own = size * (0.15 + 0.85 * s * s * s);
  let r = max(own, finest);
  let off = length(vec2f(p.x, p.y / (0.55 + 0.45 * share(k >> 16u))));
  return smooth_((r * 1.3 - off) / (r * 0.6)) * min((own / r) * (own / r), 1.0);
}
fn eased(t: vec2f) -> vec2f { return t * t * (3.0 - 2.0 * t); }
fn corner(x: i32, y: i32, seed: i32) -> f32 { return share(scramble((u32(x) * 0x85ebca77u) ^ (u32(y) * 0x9e3779b1u) ^ (u32(seed) * 0x9e3779b1u))); }
fn noised(p: vec2f, seed: i32) -> f32 {
  let low = floor(p);
  let c = vec2i(low);
  let s = eased(p - low);
  let top = mix(corner(c.x, c.y, seed), corner(c.x + 1, c.y, seed), s.x);
  return mix(top, mix(corner(c.x, c.y + 1, seed), corner(c.x + 1, c.y + 1, seed), s.x), s.y);
}
fn ridge(p: vec2f, seed: i32) -> f32 { let r = 1.0 - abs(2.0 * noised(p, seed) - 1.0); return r * r * r; }
fn fibres(p: vec2f, fibre: f32, seed: i32, fine: f32) -> f32 {
  let tooth = noised(p, seed) * 0.6 + noised(p * 2.03, seed + 1) * 0.4 * fine;
  let bend = (noised(p * 0.11, seed + 2) - 0.5) * 4.0;
  let bent = (noised(p * 0.13, seed + 3) - 0.5) * 4.0;
  let threads = ridge(vec2f(p.x * 0.12 + bend, p.y * 0.9 + bend), seed + 4) + ridge(vec2f(p.x * 0.8 + bent, p.y * 0.14 - bent), seed + 5);
  return tooth * (1.0 - fibre) + threads * 0.7 * fibre;
}
`,
  ops: {
    // Numbers: cells, amount, tint, middle, seed, left, top.
    grain: `let u = (f32(x + i32(num(n + 5u))) + 0.5) * num(n);
      let v = (f32(y + i32(num(n + 6u))) + 0.5) * num(n);
      let across = splined(u - floor(u));
      let down = splined(v - floor(v));
      var noise = vec4f(0.0);
      for (var k = 0; k < 4; k++) {
        for (var j = 0; j < 4; j++) { noise += across[j] * down[k] * speck(i32(floor(u)) + j, i32(floor(v)) + k, whole(n + 4u)); }
      }
      return grained(a, noise, num(n + 1u) * 3.6154, num(n + 2u), num(n + 3u));`,
    // Numbers: cells, reach, taps, gain, tint, middle, seed, left, top, way, backX, backY.
    filmGrain: `let taps = i32(num(n + 2u));
      let way = u32(num(n + 9u));
      let u = (f32(x + i32(num(n + 7u))) + 0.5) * num(n) - num(n + 1u);
      let v = (f32(y + i32(num(n + 8u))) + 0.5) * num(n) - num(n + 1u);
      let across = t + 8u * u32(floor((u - floor(u)) * 256.0));
      let down = t + 8u * u32(floor((v - floor(v)) * 256.0));
      var noise = vec4f(0.0);
      for (var k = 0; k < taps; k++) {
        for (var j = 0; j < taps; j++) {
          var c = i32(floor(u)) + 1 + j;
          var r = i32(floor(v)) + 1 + k;
          if ((way & 1u) != 0u) { c = i32(num(n + 10u)) - c; }
          if ((way & 2u) != 0u) { r = i32(num(n + 11u)) - r; }
          let of_ = select(vec2i(c, r), vec2i(r, c), (way & 4u) != 0u);
          noise += tab(across + u32(j)) * tab(down + u32(k)) * speck(of_.x, of_.y, whole(n + 6u));
        }
      }
      return grained(a, noise, num(n + 3u), num(n + 4u), num(n + 5u));`,
    dust: `let p = placeAt(t, f32(x), f32(y));
      let c = vec2i(floor(p));
      var strongest = 0.0;
      for (var row = c.y - 1; row <= c.y + 1; row++) {
        for (var column = c.x - 1; column <= c.x + 1; column++) {
          let h = scramble((u32(column) * 0x85ebca77u) ^ (u32(row) * 0x9e3779b1u) ^ (u32(i32(tab(t + 17u))) * 0x9e3779b1u));
          if (share(h) >= tab(t + 12u)) { continue; }
          let g = scramble(h + 1u);
          let own = p - vec2f(f32(column), f32(row)) - vec2f(share(h >> 16u), share(g));
          strongest = max(strongest, covers(g, scramble(h + 2u), own, tab(t + 13u), tab(t + 14u), tab(t + 15u), tab(t + 16u)));
        }
      }
      return vec4f(strongest);`,
    paper: `let p = placeAt(t, f32(x), f32(y));
      let light = vec2f(tab(t + 14u), tab(t + 15u));
      let seed = i32(tab(t + 13u));
      let rise = fibres(p - light, tab(t + 12u), seed, tab(t + 16u)) - fibres(p + light, tab(t + 12u), seed, tab(t + 16u));
      return vec4f(0.5 + clamp(rise, -0.5, 0.5));`,
    shaded: 'return vec4f(a.rgb * (1.0 + num(n) * (2.0 * b.x - 1.0)), a.a);',
  },
} as const satisfies Shaders;
