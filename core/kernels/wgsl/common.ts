/**
 * What all shaders know. Memory is bound once for all of them: `mem` holds images of four floats a pixel, premultiplied; `bytes` photos as they lie in files;
 * `tables` what steps look up; `given` the numbers of one dispatch; `screen` finished pixels; `counts` tones.
 */
export const common = /* wgsl */ `
@group(0) @binding(0) var<storage, read_write> mem: array<vec4f>;
@group(0) @binding(1) var<storage, read> bytes: array<u32>;
@group(0) @binding(2) var<storage, read> tables: array<f32>;
@group(0) @binding(3) var<storage, read> given: array<u32>;
@group(0) @binding(4) var<storage, read_write> screen: array<u32>;
@group(0) @binding(5) var<storage, read_write> counts: array<atomic<u32>>;

fn num(i: u32) -> f32 { return bitcast<f32>(given[i]); }
fn whole(i: u32) -> i32 { return bitcast<i32>(given[i]); }
fn tab(i: u32) -> f32 { return tables[i]; }
fn tab4(i: u32) -> vec4f { return vec4f(tables[i], tables[i + 1u], tables[i + 2u], tables[i + 3u]); }

fn luma(v: vec3f) -> f32 { return dot(v, vec3f(0.2126, 0.7152, 0.0722)); }
fn unit(v: f32) -> f32 { return clamp(v, 0.0, 1.0); }
fn smooth_(v: f32) -> f32 { let t = unit(v); return t * t * (3.0 - 2.0 * t); }
fn largest(v: vec3f) -> f32 { return max(v.r, max(v.g, v.b)); }
fn smallest(v: vec3f) -> f32 { return min(v.r, min(v.g, v.b)); }
fn part(v: vec4f) -> vec4f { if (v.a > 0.0) { return vec4f(v.rgb / v.a, v.a); } return vec4f(0.0, 0.0, 0.0, v.a); }
fn unite(v: vec4f) -> vec4f { return vec4f(v.rgb * v.a, v.a); }

/** What four neighbours give to a place between the middle two (M. Unser, "Splines", 1999). */
fn splined(t: f32) -> vec4f {
  let u = 1.0 - t;
  return vec4f(u * u * u, 3.0 * t * t * t - 6.0 * t * t + 4.0, 3.0 * u * u * u - 6.0 * u * u + 4.0, t * t * t) / 6.0;
}
/** C. Wellons, "Prospecting for Hash Functions", 2018 (public domain). */
fn scramble(v: u32) -> u32 {
  var h = v;
  h = (h ^ (h >> 16u)) * 0x7feb352du;
  h = (h ^ (h >> 15u)) * 0x846ca68bu;
  return h ^ (h >> 16u);
}
/** The place of the photo that a pixel shows, by the map at the begin of a table. */
fn placeAt(t: u32, x: f32, y: f32) -> vec2f {
  let w = tab(t + 6u) * x + tab(t + 7u) * y + tab(t + 8u);
  return vec2f(tab(t) * x + tab(t + 1u) * y + tab(t + 2u), tab(t + 3u) * x + tab(t + 4u) * y + tab(t + 5u)) / w;
}
/** A tone through a table of 4096 values and rises, closer in the darks. */
fn lookUp(v: f32, t: u32) -> f32 {
  let at = sqrt(unit(v)) * 4095.0;
  let i = min(floor(at), 4095.0);
  let entry = t + 2u * u32(i);
  return tab(entry) + tab(entry + 1u) * (at - i);
}
/** sRGB transfer function, both ways, odd beyond 0..1 (IEC 61966-2-1:1999, 5.2). */
fn decoded1(v: f32) -> f32 {
  let size = abs(v);
  return sign(v) * select(pow((size + 0.055) / 1.055, 2.4), size / 12.92, size <= 0.04045);
}
fn encoded1(v: f32) -> f32 {
  let size = abs(v);
  return sign(v) * select(1.055 * pow(size, 1.0 / 2.4) - 0.055, 12.92 * size, size <= 0.0031308);
}
fn decoded(v: vec3f) -> vec3f { return vec3f(decoded1(v.r), decoded1(v.g), decoded1(v.b)); }
fn encoded(v: vec3f) -> vec3f { return vec3f(encoded1(v.r), encoded1(v.g), encoded1(v.b)); }
`;
