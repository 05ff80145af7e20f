import type { Shaders } from './shaders';

/** As wasm/colour.ts, light.ts, cube.ts and shape.ts. */
export const colour = {
  helpers: /* wgsl */ `
/** Linear sRGB to cone-like responses, and their roots to OKLab (B. Ottosson 2020), by columns. */
const RGB_TO_LMS = mat3x3f(0.4122214708, 0.2119034982, 0.0883024619, 0.5363325363, 0.6806995451, 0.2817188376, 0.0514459929, 0.1073969566, 0.6299787005);
const LMS_TO_LAB = mat3x3f(0.2104542553, 1.9779984951, 0.0259040371, 0.793617785, -2.428592205, 0.7827717662, -0.0040720468, 0.4505937099, -0.808675766);
const LAB_TO_LMS = mat3x3f(1.0, 1.0, 1.0, 0.3963377774, -0.1055613458, -0.0894841775, 0.2158037573, -0.0638541728, -1.291485548);
const LMS_TO_RGB = mat3x3f(4.0767416621, -1.2684380046, -0.0041960863, -3.3077115913, 2.6097574011, -0.7034186147, 0.2309699292, -0.3413193965, 1.7076147010);
/** Between linear sRGB and linear Display P3 (CSS Color Module Level 4), by columns. */
const TO_P3 = mat3x3f(0.8224619687, 0.0331941989, 0.0170826307, 0.1775380313, 0.9668058011, 0.0723974407, 0.0, 0.0, 0.9105199286);
const FROM_P3 = mat3x3f(1.2249401763, -0.0420569547, -0.0196375546, -0.2249401763, 1.0420569547, -0.0786360456, 0.0, 0.0, 1.0982736001);
fn root3(v: vec3f) -> vec3f { return sign(v) * pow(abs(v), vec3f(1.0 / 3.0)); }
fn labOf(linear: vec3f) -> vec3f { return LMS_TO_LAB * root3(RGB_TO_LMS * linear); }
fn linearOf(lab: vec3f) -> vec3f { let v = LAB_TO_LMS * lab; return LMS_TO_RGB * (v * v * v); }
fn pressed(value: f32, knee: f32, room: f32) -> f32 {
  if (value <= knee) { return value; }
  let most = (room - knee) / (1.0 - knee);
  let x = min(most, (value - knee) / (1.0 - knee));
  return knee + (1.0 - knee) * ((x * (1.0 + x / (most * most))) / (1.0 + x));
}
/** The chroma that a gamut holds at a lightness and an angle 0..4, by a table (pixels/gamut.ts of the core). */
fn chromaAt(t: u32, light: f32, around: f32) -> f32 {
  let y = unit(light) * 64.0;
  let x = around * 90.0;
  let l = min(63.0, floor(y));
  let i = min(359.0, floor(x));
  let p = t + u32(l) * 361u + u32(i);
  return mix(mix(tab(p), tab(p + 1u), x - i), mix(tab(p + 361u), tab(p + 362u), x - i), y - l);
}
fn placeIn(v: vec3f, t: u32) -> vec3f { return clamp((v - tab4(t + 4u).xyz) * tab4(t + 8u).xyz, vec3f(0.0), vec3f(tab(t + 1u))); }
fn toned(at: f32, t: u32) -> vec4f {
  let i = floor(at);
  let entry = t + 4u * u32(i);
  return mix(tab4(entry), tab4(entry + 4u), at - i);
}
`,
  ops: {
    affine: 'return vec4f(a.rgb * num(n) + a.a * num(n + 1u), a.a);',
    curve: 'return vec4f(lookUp(a.r, t), lookUp(a.g, t), lookUp(a.b, t), a.a);',
    curves: 'return vec4f(lookUp(a.r, t), lookUp(a.g, t + 8192u), lookUp(a.b, t + 16384u), a.a);',
    ramps: `let p = placeIn(a.rgb, t);
      let low = min(vec3f(tab(t + 1u) - 1.0), floor(p));
      let entry = vec3u(low) * 4u + vec3u(t + 12u, t + 13u, t + 14u);
      let begin = vec3f(tab(entry.x), tab(entry.y), tab(entry.z));
      let end = vec3f(tab(entry.x + 4u), tab(entry.y + 4u), tab(entry.z + 4u));
      return vec4f(mix(begin, end, p - low), a.a);`,
    // The weights of a cell's corners: along the axes in the order of how far on the place is (H. Kang 2006, 4.4).
    lattice: `let p = placeIn(a.rgb, t);
      let size = u32(tab(t));
      let low = min(vec3f(tab(t + 1u) - 1.0), floor(p));
      let rest = p - low;
      let strides = vec3u(4u, 4u * size, 4u * size * size);
      var first = 0; var last = 0;
      if (rest.g > rest[first]) { first = 1; }
      if (rest.b > rest[first]) { first = 2; }
      if (rest.g <= rest[last]) { last = 1; }
      if (rest.b <= rest[last]) { last = 2; }
      if (first == last) { first = 0; last = 2; }
      let middle = 3 - first - last;
      let p0 = t + 12u + dot(vec3u(low), strides);
      let p1 = p0 + strides[first];
      let p2 = p1 + strides[middle];
      let p3 = p2 + strides[last];
      let out = tab4(p0) + (tab4(p1) - tab4(p0)) * rest[first] + (tab4(p2) - tab4(p1)) * rest[middle] + (tab4(p3) - tab4(p2)) * rest[last];
      return vec4f(out.rgb, a.a);`,
    toLinear: 'return vec4f(decoded(a.rgb), a.a);',
    fromLinear: 'return vec4f(encoded(a.rgb), a.a);',
    toOklab: 'return vec4f(labOf(decoded(a.rgb)), a.a);',
    fromOklab: 'return vec4f(encoded(linearOf(a.rgb)), a.a);',
    toOklabP3: 'return vec4f(labOf(FROM_P3 * decoded(a.rgb)), a.a);',
    fromOklabP3: 'return vec4f(encoded(TO_P3 * linearOf(a.rgb)), a.a);',
    narrow: `let plain = FROM_P3 * clamp(a.rgb, vec3f(0.0), vec3f(1.0));
      let lab = labOf(plain);
      let light = unit(lab.x);
      let chroma = length(lab.yz);
      let size = max(abs(lab.y) + abs(lab.z), 1e-12);
      let around = select(3.0 + lab.y / size, 1.0 - lab.y / size, lab.z >= 0.0);
      let off = light - 0.5;
      let reach = 0.5 + abs(off) + 0.2 * chroma;
      let way = reach - sqrt(max(0.0, reach * reach - 2.0 * abs(off)));
      let grey = 0.5 * (1.0 + select(way, -way, off < 0.0));
      var inner = 0.0; var outer = 1.0 / 0.9;
      var low = -chromaAt(t, grey, around);
      var high = chroma * outer - chromaAt(t, grey + outer * (light - grey), around);
      if (high <= 0.0) { return vec4f(plain, a.a); }
      for (var i = 0; i < 12; i++) {
        let middle = (inner + outer) / 2.0;
        let beyond = chroma * middle - chromaAt(t, grey + middle * (light - grey), around);
        if (beyond < 0.0) { inner = middle; low = beyond; } else { outer = middle; high = beyond; }
      }
      let edge = max(1e-6, inner + (outer - inner) * unit(-low / max(1e-9, high - low)));
      let share = edge * pressed(1.0 / edge, 0.9, 1.5);
      return vec4f(clamp(linearOf(vec3f(grey + share * (light - grey), lab.yz * share)), vec3f(0.0), vec3f(1.0)), a.a);`,
    rollOff: `let top = largest(a.rgb);
      if (top <= num(n)) { return a; }
      return vec4f(a.rgb * (pressed(top, num(n), num(n + 1u)) / max(top, 1e-6)), a.a);`,
    matrix: 'return vec4f(tab4(t).xyz * a.r + tab4(t + 4u).xyz * a.g + tab4(t + 8u).xyz * a.b + tab4(t + 12u).xyz, a.a);',
    raise: `let p = num(n + 2u) * pow(num(n) * max(a.rgb, vec3f(0.0)), vec3f(num(n + 1u)));
      return vec4f(select(vec3f(0.0), p, a.rgb > vec3f(0.0)), a.a);`,
    cdl: `let moved = clamp(a.rgb * tab4(t).xyz + tab4(t + 4u).xyz, vec3f(0.0), vec3f(1.0));
      let graded = select(vec3f(0.0), pow(moved, tab4(t + 8u).xyz), moved > vec3f(0.0));
      let grey = luma(graded);
      return vec4f(grey + (graded - grey) * tab(t + 12u), a.a);`,
    byTone: `let k = toned(unit(a.x) * 1023.0, t);
      return vec4f(a.x + k.x, a.y * k.w + k.y, a.z * k.w + k.z, a.a);`,
    byHue: `let size = max(abs(b.y) + abs(b.z), 1e-12);
      let k = toned(select(3.0 + b.y / size, 1.0 - b.y / size, b.z >= 0.0) * 256.0, t);
      let c2 = b.y * b.y + b.z * b.z;
      let w = c2 / (c2 + num(n) * num(n));
      return vec4f(a.x + w * k.x, a.y + w * ((k.y - 1.0) * a.y - k.z * a.z), a.z + w * (k.z * a.y + (k.y - 1.0) * a.z), a.a);`,
    chroma: `let k = 1.0 + num(n) * (1.0 - num(n + 1u) * min(length(a.yz) / 0.3, 1.0));
      return vec4f(a.x, a.yz * k, a.a);`,
  },
} as const satisfies Shaders;
