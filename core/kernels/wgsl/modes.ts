import type { ModeId } from '../../src/blend';

/** What mixing needs: W3C Compositing and Blending Level 1, section 10. */
export const mixing = /* wgsl */ `
fn hardLit(b: f32, s: f32) -> f32 { return select(b + (2.0 * s - 1.0) - b * (2.0 * s - 1.0), b * 2.0 * s, s <= 0.5); }
fn softLit(b: f32, s: f32) -> f32 {
  if (s <= 0.5) { return b - (1.0 - 2.0 * s) * b * (1.0 - b); }
  let d = select(sqrt(b), ((16.0 * b - 12.0) * b + 4.0) * b, b <= 0.25);
  return b + (2.0 * s - 1.0) * (d - b);
}
fn dodged(b: f32, s: f32) -> f32 {
  if (b <= 0.0) { return 0.0; }
  if (s >= 1.0) { return 1.0; }
  return min(1.0, b / (1.0 - s));
}
fn burnt(b: f32, s: f32) -> f32 {
  if (b >= 1.0) { return 1.0; }
  if (s <= 0.0) { return 0.0; }
  return 1.0 - min(1.0, (1.0 - b) / s);
}
fn lum(v: vec3f) -> f32 { return dot(v, vec3f(0.3, 0.59, 0.11)); }
fn sat(v: vec3f) -> f32 { return largest(v) - smallest(v); }
fn setLum(v: vec3f, wanted: f32) -> vec3f {
  var c = v + (wanted - lum(v));
  let l = lum(c);
  let low = smallest(c);
  let high = largest(c);
  if (low < 0.0 && l > low) { c = l + ((c - l) * l) / (l - low); }
  if (high > 1.0 && high > l) { c = l + ((c - l) * (1.0 - l)) / (high - l); }
  return c;
}
/** What spreads less than a sixteenth of an 8-bit level is next to grey: it is stretched the less the greyer it is. */
fn setSat(v: vec3f, s: f32) -> vec3f {
  let low = smallest(v);
  let range = largest(v) - low;
  const NEAR = 1.0 / 4096.0;
  if (range < NEAR) { return (v - low) * (s * range / (NEAR * NEAR)); }
  return (v - low) * (s / range);
}
/** A layer made from the backdrop takes its place (section 9, copy), mixed in by an amount; straight colours mixed are given as \`lit\`. */
fn laid(under: vec4f, over: vec4f, lit: vec3f, amount: f32) -> vec4f {
  let made = vec4f((1.0 - under.a) * over.rgb + under.a * over.a * lit, over.a);
  return under + (made - under) * amount;
}
`;

const each = (formula: (b: string, s: string) => string): string =>
  `return vec3f(${['r', 'g', 'b'].map((c) => formula(`b.${c}`, `s.${c}`)).join(', ')});`;

/** What each mode makes of the straight colours of a backdrop b and a source s. */
export const modeShaders: Record<ModeId, string> = {
  normal: 'return s;',
  multiply: 'return b * s;',
  screen: 'return b + s - b * s;',
  overlay: each((b, s) => `hardLit(${s}, ${b})`),
  darken: 'return min(b, s);',
  lighten: 'return max(b, s);',
  'color-dodge': each((b, s) => `dodged(${b}, ${s})`),
  'color-burn': each((b, s) => `burnt(${b}, ${s})`),
  'hard-light': each((b, s) => `hardLit(${b}, ${s})`),
  'soft-light': each((b, s) => `softLit(${b}, ${s})`),
  difference: 'return abs(b - s);',
  exclusion: 'return b + s - 2.0 * b * s;',
  hue: 'return setLum(setSat(s, sat(b)), lum(b));',
  saturation: 'return setLum(setSat(b, sat(s)), lum(b));',
  color: 'return setLum(s, lum(b));',
  luminosity: 'return setLum(b, lum(s));',
  add: 'return min(vec3f(1.0), b + s);',
  deepen: 'return max(vec3f(0.0), b + s - 1.0);',
  push: 'return clamp(b + 2.0 * s - 1.0, vec3f(0.0), vec3f(1.0));',
  etch: each((b, s) => `select(dodged(${b}, 2.0 * ${s} - 1.0), burnt(${b}, 2.0 * ${s}), ${s} <= 0.5)`),
  outdo: 'return select(max(b, 2.0 * s - 1.0), min(b, 2.0 * s), s <= vec3f(0.5));',
  subtract: 'return max(vec3f(0.0), b - s);',
  divide: 'return select(min(vec3f(1.0), b / max(s, vec3f(1e-20))), vec3f(0.0), b <= vec3f(0.0));',
  'darker-of-two': 'return select(s, b, lum(b) <= lum(s));',
  'lighter-of-two': 'return select(s, b, lum(b) >= lum(s));',
};
