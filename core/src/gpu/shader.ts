import { common, helpersOf, mixing, modeShaders, opShaders, reading, storing, wholeNumbers } from '../../kernels/wgsl';
import { modeOf, type ModeId } from '../blend';
import { opOf, type OpId } from '../expressions/ops';
import { costOf } from '../stack/cost';
import type { Rgb } from '../pixels/colour';
import { bytesPerPixel, type Layout } from '../pixels/picture';
import { inputsOf, type Step, type Value } from '../stack/program';
import { Words } from './words';

/** Pixels of a group of threads, both ways. */
export const GROUP = 16;

/** What is at hand: bytes of a photo, a whole image, or a small one that is grown back. */
export type Leaf =
  | { readonly as: 'bytes'; readonly at: number; readonly layout: Layout }
  | { readonly as: 'image'; readonly at: number; readonly width: number; readonly height: number }
  | {
      readonly as: 'small';
      readonly at: number;
      readonly width: number;
      readonly height: number;
      readonly factor: number;
      readonly origin: number;
    };

/** What a dispatch is worth: bytes that have to come from memory and go there, each once, and about how many operations on single numbers. */
export interface Work {
  readonly bytes: number;
  readonly operations: number;
}

/** A shader, the numbers that it is given, and how many groups of threads carry it out. */
export interface Dispatch {
  readonly work: Work;
  readonly source: string;
  readonly words: readonly number[];
  readonly groups: readonly [across: number, down: number];
}

const groupsOf = (width: number, height: number): Dispatch['groups'] => [Math.ceil(width / GROUP), Math.ceil(height / GROUP)];

/** Where what a dispatch makes goes: to an image; rounded to bytes, premultiplied without alpha for a screen or straight with it; or its tones are counted. `stride` is from one row of a screen to the next. */
export type Target =
  | { readonly to: 'image'; readonly at: number }
  | { readonly to: 'counts'; readonly at: number; readonly weights: Rgb }
  | { readonly to: 'screen' | 'rgba8'; readonly stride: number };
export interface Area {
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}

const PIXEL = 16;
/** Of an image that is grown back: 20 sums of four numbers by weights. */
const GROWING = 160;
/** Operations in a nanosecond of a step's cost: four at a time, at 2.5 GHz. */
const PER_NANOSECOND = 10;

/** Bytes of a leaf that come to one pixel of what is made, and operations until it is read. */
function workOf(leaf: Leaf): Work {
  if (leaf.as === 'bytes') return { bytes: bytesPerPixel(leaf.layout), operations: 8 };
  return leaf.as === 'image' ? { bytes: PIXEL, operations: 0 } : { bytes: PIXEL / leaf.factor ** 2, operations: GROWING };
}

/** Reads a pixel of a leaf at (x, y), inside of it. */
function readingOf(leaf: Leaf, words: Words): (x: string, y: string) => string {
  const at = `u32(whole(${words.whole(leaf.at)}))`;
  if (leaf.as === 'bytes') {
    const width = `whole(${words.whole(leaf.layout.width)})`;
    return (x, y) => `load${leaf.layout.channels}x${leaf.layout.depth}(${at}, ${width}, ${x}, ${y})`;
  }
  const width = `whole(${words.whole(leaf.width)})`;
  if (leaf.as === 'image') return (x, y) => `imageAt(${at}, ${width}, ${x}, ${y})`;
  const more = [leaf.height, leaf.factor, leaf.origin].map((v) => `whole(${words.whole(v)})`).join(', ');
  return (x, y) => `grown(${at}, ${width}, ${more}, ${x}, ${y})`;
}

/** What red, green and blue weigh, as a vector. */
const weighing = (weights: Rgb = [0, 0, 0]): string => `vec3f(${weights.join(', ')})`;

/** What is done with a pixel that was made. */
function putting(target: Target, words: Words): string {
  if (target.to === 'image') return `mem[u32(whole(${words.whole(target.at)})) + index] = made;`;
  if (target.to === 'counts')
    return `if (made.a > 0.0) { atomicAdd(&bins[u32(floor(unit(dot(part(made).rgb, ${weighing(target.weights)})) * 255.0 + 0.5))], 1u); }`;
  return `screen[u32(i32(id.y) * whole(${words.whole(target.stride)}) + i32(id.x))] = shown(${target.to === 'rgba8' ? 'part(made)' : 'vec4f(made.rgb, 1.0)'}, x, y);`;
}

function entry(words: Words, { x, y, w, h }: Area, target: Target): string {
  const [width, height, left, top] = [w, h, x, y].map((v) => `whole(${words.whole(v)})`);
  const counts = target.to === 'counts';
  // Tones are counted within a group first.
  const after = counts
    ? `workgroupBarrier();
  let count = atomicLoad(&bins[place]);
  if (count > 0u) { atomicAdd(&counts[u32(whole(${words.whole(target.at)})) + place], count); }`
    : '';
  return /* wgsl */ `
${counts ? 'var<workgroup> bins: array<atomic<u32>, 256>;' : ''}
@compute @workgroup_size(${GROUP}, ${GROUP})
fn main(@builtin(global_invocation_id) id: vec3u, @builtin(local_invocation_index) place: u32) {
  let index = u32(i32(id.y) * ${width} + i32(id.x));
  if (i32(id.x) < ${width} && i32(id.y) < ${height}) {
    let x = i32(id.x) + ${left};
    let y = i32(id.y) + ${top};
    let made = make(x, y);
    ${putting(target, words)}
  }
  ${after}
}
`;
}

/** A dispatch that makes each pixel from the neighbours of one leaf. @param body of the function from (x, y), with `near` to read and w, h the leaf's size. */
export function neighbours(
  leaf: Leaf,
  size: { width: number; height: number },
  to: number,
  make: (words: Words) => { helpers?: string; body: string },
  /** For each pixel. */
  operations: number,
): Dispatch {
  const words = new Words();
  const near = readingOf(leaf, words);
  const from = leaf.as === 'bytes' ? leaf.layout : leaf;
  const [w, h] = [from.width, from.height].map((v) => `whole(${words.whole(v)})`);
  const { helpers = '', body } = make(words);
  const source = [
    common,
    reading,
    `fn near(x: i32, y: i32) -> vec4f { return ${near(`clamp(x, 0, ${w} - 1)`, `clamp(y, 0, ${h} - 1)`)}; }`,
    helpers,
    `fn make(x: i32, y: i32) -> vec4f { let w = ${w}; let h = ${h}; ${body} }`,
    entry(words, { x: 0, y: 0, w: size.width, h: size.height }, { to: 'image', at: to }),
  ].join('\n');
  const count = size.width * size.height;
  const own = workOf(leaf);
  const read = own.bytes * (from.width * from.height);
  return {
    source,
    words: words.all,
    groups: groupsOf(size.width, size.height),
    work: { bytes: read + PIXEL * count, operations: (operations + own.operations) * count },
  };
}

/** Threads along a row, and what each does for a pixel of it: eight steps of adding, each within the group. */
const ROW = 256;
const SUMMING = 4 * 9;

/** A dispatch that makes the running sums of a leaf's rows: each pixel is the sum of those up to it (W. D. Hillis and G. L. Steele, "Data Parallel Algorithms", 1986). */
export function runningSums(leaf: Extract<Leaf, { as: 'bytes' | 'image' }>, to: number): Dispatch {
  const words = new Words();
  const near = readingOf(leaf, words);
  const { width, height } = leaf.as === 'bytes' ? leaf.layout : leaf;
  const source = [
    common,
    reading,
    /* wgsl */ `
var<workgroup> sums: array<vec4f, ${ROW}>;
@compute @workgroup_size(${ROW})
fn main(@builtin(workgroup_id) group: vec3u, @builtin(local_invocation_index) place: u32) {
  let width = whole(${words.whole(width)});
  let y = i32(group.y);
  var before = vec4f(0.0);
  for (var left = 0; left < width; left += ${ROW}) {
    let x = left + i32(place);
    var own = vec4f(0.0);
    if (x < width) { own = ${near('x', 'y')}; }
    sums[place] = own;
    workgroupBarrier();
    for (var step = 1u; step < ${ROW}u; step *= 2u) {
      if (place >= step) { own += sums[place - step]; }
      workgroupBarrier();
      sums[place] = own;
      workgroupBarrier();
    }
    if (x < width) { mem[u32(whole(${words.whole(to)})) + u32(y * width + x)] = before + own; }
    before += sums[${ROW - 1}];
    workgroupBarrier();
  }
}
`,
  ].join('\n');
  const count = width * height;
  const own = workOf(leaf);
  return {
    source,
    words: words.all,
    groups: [1, height],
    work: { bytes: (own.bytes + PIXEL) * count, operations: (own.operations + SUMMING) * count },
  };
}

/** A dispatch that carries out steps without neighbours, with all values on the way in registers. */
export function pointwise(
  steps: readonly Step[],
  out: Value,
  leafOf: (value: Value) => Leaf,
  tableAt: (id: string) => number,
  opaque: boolean,
  area: Area,
  target: Target,
): Dispatch {
  const words = new Words();
  const names = new Map<Value, string>();
  const lines: string[] = [];
  const ops = new Set<OpId>();
  const modes = new Set<ModeId>();
  let [bytes, operations] = [0, 0];
  const put = (value: Value, expression: string): void => {
    const name = `v${names.size}`;
    names.set(value, name);
    lines.push(`let ${name} = ${expression};`);
  };
  const own = new Set(steps.map(({ to }) => to));
  const read = (value: Value): string => {
    if (!names.has(value)) {
      const leaf = leafOf(value);
      const own = workOf(leaf);
      bytes += own.bytes;
      operations += own.operations;
      put(value, readingOf(leaf, words)('x', 'y'));
    }
    return names.get(value) as string;
  };
  const table = (id: string): string => `u32(whole(${words.whole(tableAt(id))}))`;
  for (const step of steps) {
    const from = inputsOf(step).map(read);
    if (step.do === 'point') {
      ops.add(step.op);
      const { takes, gives, premultiplied = false } = opOf(step.op);
      const straight = !opaque && !premultiplied;
      const given = from.map((name, i) => (straight && takes[i] === 'colour' ? `part(${name})` : name));
      const wholes = wholeNumbers[step.op] ?? [];
      const places = step.numbers.map((v, i) => (wholes.includes(i) ? words.whole(v) : words.float(v)));
      const call = `op_${step.op}(${given[0] ?? 'vec4f(0.0)'}, ${given[1] ?? 'vec4f(0.0)'}, ${places[0] ?? '0u'}, ${step.table === undefined ? '0u' : table(step.table)}, x, y)`;
      put(step.to, straight && gives === 'colour' ? `unite(${call})` : call);
    } else if (step.do === 'fade') put(step.to, `${from[0]} + (${from[1]} - ${from[0]}) * num(${words.float(step.t)})`);
    else if (step.do === 'mix') {
      modes.add(step.mode);
      const [under, over, mask] = from as [string, string, string?];
      const gates = [
        step.own && `lookUp(dot(part(${over}).rgb, ${weighing(step.weights)}), ${table(step.own)})`,
        step.beneath && `lookUp(dot(part(${under}).rgb, ${weighing(step.weights)}), ${table(step.beneath)})`,
      ];
      const amount = [`num(${words.float(step.strength)})`, mask && `${mask}.x`, ...gates].filter(Boolean).join(' * ');
      put(step.to, `mix_${step.mode.replaceAll('-', '_')}(${under}, ${over}, ${amount})`);
    } else throw new Error(`a step that does ${step.do} is not made pixel by pixel`);
  }
  // What is at hand already is only stored.
  const result = own.has(out) ? (names.get(out) as string) : read(out);
  const unitary = (mode: ModeId, v: string): string => (modeOf(mode).domain === 'unit' ? `clamp(${v}, vec3f(0.0), vec3f(1.0))` : v);
  const lit = (mode: ModeId): string => `blend_${mode.replaceAll('-', '_')}(${unitary(mode, 'part(under).rgb')}, ${unitary(mode, 'part(over).rgb')})`;
  const source = [
    common,
    reading,
    storing,
    helpersOf([...ops]),
    ...(modes.size > 0 ? [mixing] : []),
    ...[...ops].map((op) => `fn op_${op}(a: vec4f, b: vec4f, n: u32, t: u32, x: i32, y: i32) -> vec4f { ${opShaders[op]} }`),
    ...[...modes].flatMap((mode) => [
      `fn blend_${mode.replaceAll('-', '_')}(b: vec3f, s: vec3f) -> vec3f { ${modeShaders[mode]} }`,
      `fn mix_${mode.replaceAll('-', '_')}(under: vec4f, over: vec4f, amount: f32) -> vec4f { return laid(under, over, ${lit(mode)}, amount); }`,
    ]),
    `fn make(x: i32, y: i32) -> vec4f {\n  ${lines.join('\n  ')}\n  return ${result};\n}`,
    entry(words, area, target),
  ].join('\n');
  const written = { image: PIXEL, screen: 4, rgba8: 4, counts: 0 }[target.to];
  const count = area.w * area.h;
  const work = {
    bytes: (bytes + written) * count,
    operations: (operations + PER_NANOSECOND * steps.reduce((sum, step) => sum + costOf(step), 0)) * count,
  };
  return { source, words: words.all, groups: groupsOf(area.w, area.h), work };
}
