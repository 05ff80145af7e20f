/** Ways to a pixel that is at hand; \`at\` is where an image begins, in pixels of \`mem\` or words of \`bytes\`. */
export const reading = /* wgsl */ `
fn byteAt(i: u32) -> f32 { return f32((bytes[i >> 2u] >> ((i & 3u) * 8u)) & 255u) / 255.0; }
fn shortAt(i: u32) -> f32 { return f32((bytes[i >> 1u] >> ((i & 1u) * 16u)) & 0xffffu) / 65535.0; }
fn load3x8(at: u32, width: i32, x: i32, y: i32) -> vec4f {
  let i = 4u * at + 3u * u32(y * width + x);
  return vec4f(byteAt(i), byteAt(i + 1u), byteAt(i + 2u), 1.0);
}
fn load4x8(at: u32, width: i32, x: i32, y: i32) -> vec4f {
  let i = 4u * at + 4u * u32(y * width + x);
  return unite(vec4f(byteAt(i), byteAt(i + 1u), byteAt(i + 2u), byteAt(i + 3u)));
}
fn load3x16(at: u32, width: i32, x: i32, y: i32) -> vec4f {
  let i = 2u * at + 3u * u32(y * width + x);
  return vec4f(shortAt(i), shortAt(i + 1u), shortAt(i + 2u), 1.0);
}
fn load4x16(at: u32, width: i32, x: i32, y: i32) -> vec4f {
  let i = 2u * at + 4u * u32(y * width + x);
  return unite(vec4f(shortAt(i), shortAt(i + 1u), shortAt(i + 2u), shortAt(i + 3u)));
}
fn imageAt(at: u32, width: i32, x: i32, y: i32) -> vec4f { return mem[at + u32(y * width + x)]; }
/** An image that is \`by\` times smaller, grown back by a cubic B-spline. */
fn grown(at: u32, width: i32, height: i32, by: i32, origin: i32, x: i32, y: i32) -> vec4f {
  let u = vec2i(x, y) + origin;
  let low = u / by - 1;
  let across = splined((f32(u.x % by) + 0.5) / f32(by));
  let down = splined((f32(u.y % by) + 0.5) / f32(by));
  var sum = vec4f(0.0);
  for (var j = 0; j < 4; j++) {
    let row = at + u32(clamp(low.y + j, 0, height - 1) * width);
    var line = vec4f(0.0);
    for (var i = 0; i < 4; i++) { line += across[i] * mem[row + u32(clamp(low.x + i, 0, width - 1))]; }
    sum += down[j] * line;
  }
  return sum;
}
`;

/** Pixels of a screen: rounded with the noise of their place, as wasm/load-store.ts has it. */
export const storing = /* wgsl */ `
fn level(v: f32, noise: u32) -> u32 { return u32(clamp((i32(round(clamp(v * 65280.0, -65280.0, 130560.0))) + i32(noise)) >> 8u, 0, 255)); }
fn shown(v: vec4f, x: i32, y: i32) -> u32 {
  let h = scramble((u32(x % 128) * 0x85ebca77u) + (u32(y % 128) * 0x9e3779b1u));
  return level(v.r, h & 255u) | (level(v.g, (h >> 8u) & 255u) << 8u) | (level(v.b, (h >> 16u) & 255u) << 16u) | (level(v.a, 128u) << 24u);
}
`;

/** Bodies that make a pixel of an image of half the size; \`near\` reads a pixel of the larger one, whose border goes on. */
export const halving = {
  firm: /* wgsl */ `
  var W = array<f32, 6>(1.0 / 32.0, 5.0 / 32.0, 10.0 / 32.0, 10.0 / 32.0, 5.0 / 32.0, 1.0 / 32.0);
  var sum = vec4f(0.0);
  for (var j = 0; j < 6; j++) {
    var line = vec4f(0.0);
    for (var i = 0; i < 6; i++) { line += W[i] * near(2 * x - 6 + i, 2 * y - 6 + j); }
    sum += W[j] * line;
  }
  return sum;`,
  soft: /* wgsl */ `
  var W = array<f32, 4>(0.125, 0.375, 0.375, 0.125);
  var sum = vec4f(0.0);
  for (var j = 0; j < 4; j++) {
    var line = vec4f(0.0);
    for (var i = 0; i < 4; i++) { line += W[i] * near(2 * x - 5 + i, 2 * y - 5 + j); }
    sum += W[j] * line;
  }
  return sum;`,
};

/** A filter of a pixel's neighbours: \`t\` is where its table lies, \`w\` and \`h\` the size of the image. */
export interface FilterShader {
  /** Functions that it calls. */
  readonly helpers: string;
  readonly body: string;
  /** About how many it takes for a pixel, given the filter's numbers and how far it reads. */
  readonly operations: (numbers: readonly number[], reach: number) => number;
  /** What is given to it in the place of the filter's table. */
  readonly table?: (table: Float32Array) => Float32Array;
  /** It also reads the running sums of all rows, at \`extra\`. */
  readonly sums?: true;
  /** It also reads how colours change, after that was made, smoothed and put at \`extra\`. */
  readonly steep?: { readonly body: string; readonly taps: number; readonly reach: number };
}

/** Where an opening's shares of light change along a row, out of the table of the filter: how many places, then across, down and by how much. */
function changesOf(table: Float32Array): Float32Array {
  const [reach = 0, n = 0] = table;
  const side = 2 * reach + 1;
  const shares = table.subarray(4 + 2 * n + 2 * n * n);
  const changes: number[] = [];
  for (let j = 0; j < side; j++) {
    let before = 0;
    for (let i = 0; i <= side; i++) {
      const share = i < side ? (shares[j * side + i] as number) : 0;
      // As large as the last bit of a share: what is left out goes on to the next place.
      if (Math.abs(share - before) > 1e-6 * Math.max(share, before)) {
        changes.push(i - reach, j - reach, share - before);
        before = share;
      }
    }
  }
  return Float32Array.of(changes.length / 3, ...changes);
}

const between = /* wgsl */ `
/** Between four pixels, by straight lines; the border goes on. */
fn between(p: vec2f, w: i32, h: i32) -> vec4f {
  let q = clamp(p, vec2f(0.0), vec2f(f32(w - 1), f32(h - 1)));
  let low = floor(q);
  let r = q - low;
  let i = vec2i(low);
  return mix(mix(near(i.x, i.y), near(i.x + 1, i.y), r.x), mix(near(i.x, i.y + 1), near(i.x + 1, i.y + 1), r.x), r.y);
}
`;

const filters = {
  // Shares of light that stay the same along a row add nothing: what is read is the running sum of a row, wherever they change.
  aperture: {
    sums: true,
    table: changesOf,
    helpers: /* wgsl */ `
/** The sum of a row up to a pixel; its border goes on. */
fn sumTo(extra: u32, w: i32, h: i32, x: i32, y: i32) -> vec4f {
  let row = extra + u32(clamp(y, 0, h - 1) * w);
  let all = mem[row + u32(clamp(x, 0, w - 1))];
  if (x < 0) { return f32(x + 1) * all; }
  if (x >= w) { return all + f32(x - w + 1) * near(w - 1, y); }
  return all;
}
`,
    operations: (_, reach) => 100 * reach,
    body: /* wgsl */ `
  let count = u32(tab(t));
  var sum = vec4f(0.0);
  for (var k = 0u; k < count; k++) {
    let s = t + 1u + 3u * k;
    // What lies on this side of the opening is seen through its other side.
    sum += tab(s + 2u) * sumTo(extra, w, h, x - i32(tab(s)), y - i32(tab(s + 1u)));
  }
  return sum;`,
  },
  sweep: {
    helpers: between,
    operations: ({ length }) => (length / 6) * 60,
    body: /* wgsl */ `
  let count = u32(tab(t));
  let p = vec2f(f32(x), f32(y)) + 0.5;
  var sum = vec4f(0.0);
  for (var k = 0u; k < count; k++) {
    let s = t + 4u + 6u * k;
    sum += between(vec2f(tab(s) * p.x + tab(s + 1u) * p.y + tab(s + 2u), tab(s + 3u) * p.x + tab(s + 4u) * p.y + tab(s + 5u)) - 0.5, w, h);
  }
  return sum / f32(count);`,
  },
  relief: {
    helpers: between,
    operations: () => 150,
    body: /* wgsl */ `
  let off = vec2f(tab(t), tab(t + 1u));
  let p = vec2f(f32(x), f32(y));
  let rise = luma(between(p - off, w, h).rgb) - luma(between(p + off, w, h).rgb);
  let own = near(x, y);
  return vec4f(own.rgb + ((tab(t + 2u) * rise) / (0.25 + abs(rise))) * own.a, own.a);`,
  },
  painterly: {
    operations: (_, reach) => Math.PI * ((reach - 8) / 2) ** 2 * 200,
    helpers: /* wgsl */ `
fn sectorsOf(u: f32, v: f32, zeta: f32, eta: f32) -> vec4f {
  let a = zeta - eta * u * u;
  let b = zeta - eta * v * v;
  let z = max(vec4f(v + a, b - u, a - v, u + b), vec4f(0.0));
  return z * z;
}
`,
    steep: {
      taps: 4,
      reach: 6,
      body: /* wgsl */ `
  let across = near(x + 1, y - 1) - near(x - 1, y - 1) + 2.0 * (near(x + 1, y) - near(x - 1, y)) + near(x + 1, y + 1) - near(x - 1, y + 1);
  let down = near(x - 1, y + 1) - near(x - 1, y - 1) + 2.0 * (near(x, y + 1) - near(x, y - 1)) + near(x + 1, y + 1) - near(x + 1, y - 1);
  return vec4f(dot(across.rgb, across.rgb), dot(down.rgb, down.rgb), dot(across.rgb, down.rgb), 0.0);`,
    },
    body: /* wgsl */ `
  let radius = tab(t);
  let hardness = 8.0 + 500.0 * tab(t + 2u) * tab(t + 2u);
  let zeta = 2.0 / max(radius, 2.0);
  let angle = 3.0 * 3.14159265 / 8.0;
  let eta = (zeta + cos(angle)) / (sin(angle) * sin(angle));
  let way = mem[extra + u32(y * w + x)];
  let root = length(vec2f(way.x - way.y, 2.0 * way.z));
  let sure = root / (way.x + way.y + 1e-4);
  var along = vec2f((way.x + way.y + root) / 2.0 - way.x, -way.z);
  if (abs(along.x) + abs(along.y) < 1e-8) { along = select(vec2f(0.0, 1.0), vec2f(1.0, 0.0), way.x < way.y); }
  along = along / length(along);
  let stretch = 1.0 + tab(t + 1u) * sure;
  let long = radius * min(stretch, 2.0);
  let wide = radius / stretch;
  let bx = i32(ceil(length(vec2f(long * along.x, wide * along.y))));
  let by = i32(ceil(length(vec2f(long * along.y, wide * along.x))));
  var weights = array<f32, 8>();
  var means = array<vec4f, 8>();
  var squares = array<vec4f, 8>();
  for (var j = -by; j <= by; j++) {
    for (var i = -bx; i <= bx; i++) {
      let u = 0.5 * (f32(i) * along.x + f32(j) * along.y) / long;
      let v = 0.5 * (f32(j) * along.x - f32(i) * along.y) / wide;
      if (u * u + v * v > 0.25) { continue; }
      let colour = near(x + i, y + j);
      let one = sectorsOf(u, v, zeta, eta);
      let two = sectorsOf(0.70710678 * (u - v), 0.70710678 * (u + v), zeta, eta);
      let far = 1.0 - 0.390625 * (u * u + v * v);
      let far4 = far * far * far * far;
      let k = far4 * far4 / max(dot(one, vec4f(1.0)) + dot(two, vec4f(1.0)), 1e-12);
      for (var n = 0; n < 8; n++) {
        let share = k * select(two[n & 3], one[n & 3], n < 4);
        weights[n] += share;
        means[n] += colour * share;
        squares[n] += colour * colour * share;
      }
    }
  }
  var out = vec4f(0.0);
  var all = 0.0;
  for (var n = 0; n < 8; n++) {
    let mean = means[n] / max(weights[n], 1e-12);
    let off = dot(abs(squares[n].rgb / max(weights[n], 1e-12) - mean.rgb * mean.rgb), vec3f(1.0));
    let hard = hardness * off;
    let k = 1.0 / (1.0 + hard * hard * hard * hard);
    all += k;
    out += mean * k;
  }
  return out / all;`,
  },
} as const satisfies Record<string, FilterShader>;

/** The shader of each filter, by its id. */
export const filterShaders: ReadonlyMap<string, FilterShader> = new Map(Object.entries(filters));
