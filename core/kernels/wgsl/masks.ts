import type { Shaders } from './shaders';

/** As wasm/masks.ts and brush.ts. Places are those of the photo: a table begins with the map that leads to them, in room for twelve floats. */
export const masks = {
  helpers: /* wgsl */ `
fn eighth(v: vec2f) -> f32 { let a = v * v; let b = a * a; let c = b * b; return sqrt(sqrt(sqrt(c.x + c.y))); }
fn cell(t: u32, i: f32, j: f32) -> f32 {
  let width = tab(t + 12u);
  return tab(t + 16u + u32(min(j, tab(t + 13u) - 1.0) * width + min(i, width - 1.0)));
}
/** The strongest of a stroke's segments at a place. */
fn stroked(t: u32, stroke: u32, p: vec2f) -> f32 {
  let fade = tab(stroke + 5u);
  let first = t + u32(tab(stroke + 6u));
  let count = u32(tab(stroke + 7u));
  var strongest = 0.0;
  for (var i = 0u; i < count; i++) {
    let s = first + 16u * i;
    let begin = p - vec2f(tab(s), tab(s + 1u));
    let along = vec2f(tab(s + 2u), tab(s + 3u));
    let way = unit(dot(begin, along) * tab(s + 4u));
    let off = length(begin - way * along) / (tab(s + 5u) + way * tab(s + 6u));
    strongest = max(strongest, smooth_((1.0 - off) * fade) * (tab(s + 7u) + way * tab(s + 8u)));
  }
  return strongest;
}
fn painted(start: vec4f, t: u32, x: i32, y: i32, adds: bool) -> vec4f {
  let at = vec2f(f32(x), f32(y));
  let p = placeAt(t, at.x, at.y);
  let count = u32(tab(t + 12u));
  var value = start;
  for (var k = 0u; k < count; k++) {
    let stroke = t + 16u + 16u * k;
    if (at.x < tab(stroke) || at.y < tab(stroke + 1u) || at.x > tab(stroke + 2u) || at.y > tab(stroke + 3u)) { continue; }
    let amount = stroked(t, stroke, p);
    let way = tab(stroke + 4u);
    if (adds) { value += way * amount; }
    else if (way > 0.0) { value += (1.0 - value) * amount; }
    else { value *= 1.0 - amount; }
  }
  return value;
}
`,
  ops: {
    oval: `let p = placeAt(t, f32(x), f32(y)) - vec2f(tab(t + 12u), tab(t + 13u));
      let turn = vec2f(tab(t + 14u), tab(t + 15u));
      let q = min(abs(vec2f(dot(p, turn) * tab(t + 16u), (p.y * turn.x - p.x * turn.y) * tab(t + 17u))), vec2f(1000.0));
      let round_ = length(q);
      return vec4f(smooth_((1.0 - (round_ + (eighth(q) - round_) * tab(t + 18u))) * tab(t + 19u)));`,
    strip: `let p = placeAt(t, f32(x), f32(y)) - vec2f(tab(t + 12u), tab(t + 13u));
      let way = dot(p, vec2f(tab(t + 14u), tab(t + 15u)));
      return vec4f(smooth_((way - tab(t + 16u)) * tab(t + 17u)) * smooth_((tab(t + 18u) - way) * tab(t + 19u)));`,
    mapped: `let size = vec2f(tab(t + 12u), tab(t + 13u));
      let p = clamp(placeAt(t, f32(x), f32(y)) * tab(t + 14u) + size / 2.0 - 0.5, vec2f(0.0), size - 1.0);
      let low = floor(p);
      let r = p - low;
      let top = mix(cell(t, low.x, low.y), cell(t, low.x + 1.0, low.y), r.x);
      let under = mix(cell(t, low.x, low.y + 1.0), cell(t, low.x + 1.0, low.y + 1.0), r.x);
      return vec4f(mix(top, under, r.y));`,
    beyond: `let p = placeAt(t, f32(x), f32(y)) - vec2f(tab(t + 12u), tab(t + 13u));
      let turn = vec2f(tab(t + 14u), tab(t + 15u));
      let q = vec2f(dot(p, turn) * tab(t + 16u), (p.y * turn.x - p.x * turn.y) * tab(t + 17u));
      let round_ = length(q);
      let long = (select(tab(t + 21u), tab(t + 20u), q.x > 0.0) * q.x * q.x + select(tab(t + 23u), tab(t + 22u), q.y > 0.0) * q.y * q.y) / max(round_ * round_, 1e-12);
      return vec4f(smooth_((round_ + (eighth(q) - round_) * tab(t + 18u) - 1.0) / long));`,
    quad: `let side = clamp(tab4(t) * f32(x) + tab4(t + 4u) * f32(y) + tab4(t + 8u) + 0.5, vec4f(0.0), vec4f(1.0));
      return vec4f(side.x * side.y * side.z * side.w);`,
    tones: `let y_ = dot(a.rgb, vec3f(num(n + 4u), num(n + 5u), num(n + 6u)));
      return vec4f(smooth_((y_ - num(n)) * num(n + 1u)) * smooth_((num(n + 2u) - y_) * num(n + 3u)));`,
    colours: `let count = u32(tab(t));
      var off = 1e30;
      for (var i = 0u; i < count; i++) { off = min(off, length(a.xyz - tab4(t + 4u + 4u * i).xyz)); }
      return vec4f(smooth_(1.0 - (off - tab(t + 1u)) * tab(t + 2u)));`,
    edges: 'return vec4f(smooth_((sqrt(max(a.y - a.x * a.x, 0.0)) - num(n)) * num(n + 1u)));',
    scaled: 'return clamp(a * num(n) + num(n + 1u), vec4f(0.0), vec4f(1.0));',
    either: 'return 1.0 - (1.0 - a) * (1.0 - b);',
    both: 'return a * b;',
    between: 'return a + (b - a) * num(n);',
    weighed: 'return a * b;',
    evened: `if (b.a > 1e-4) { return vec4f(b.rgb / b.a, a.a); }
      return a;`,
    shared: 'return a / max(b, vec4f(1e-4));',
    amountMoments: 'let y_ = luma(a.rgb); return vec4f(y_, y_ * y_, b.x, b.x * y_);',
    guided: 'return vec4f(unit(b.x * luma(a.rgb) + b.y));',
    lesser: 'return min(a, b);',
    colourOf: `if (a.a > 0.0) { return vec4f(a.rgb / a.a, 1.0); }
      return vec4f(0.0, 0.0, 0.0, 1.0);`,
    alphaOf: 'return vec4f(a.a);',
    greys: 'return vec4f(a.rgb, 1.0);',
    brush: 'return painted(a, t, x, y, false);',
    lights: 'return painted(a, t, x, y, true);',
    exposed: `let peak = unit(largest(a.rgb));
      let soft = num(n + 2u);
      let wanted = b.x * num(n);
      let spared = select(wanted, wanted * (1.0 - num(n + 1u) * smooth_((luma(a.rgb) - 0.5) * 2.5)), wanted < 0.0);
      let gain = exp2(clamp(spared * (1.0 - (soft * 0.004) / (peak + 0.004)), -24.0, 24.0));
      let bent = select(gain, gain / (1.0 + soft * (gain - 1.0) * peak), gain > 1.0);
      return vec4f(a.rgb * bent, a.a);`,
  },
} as const satisfies Shaders;
