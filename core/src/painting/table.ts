import { inverse, inTurn, mapped, moveBy, type Matrix } from '../geometry/matrix';
import type { FilmPlace } from '../geometry/shape';
import type { Image } from '../expressions/image';
import { lit, painted } from '../expressions/coverage';
import { isLive, noResources } from '../resources';
import { pointsOf, type Stroke, type StrokePoint } from '../resources/stroke';

/** Floats of a stroke and of a segment in a table, and of what stands before them; see kernels/wasm/brush.ts. */
const EACH = 16;
const HEAD = 16;
/** Strokes that share a table: while one more is painted, those of the tables before it stay as they are. */
const PACK = 64;
/** Points are left out that lie so near the line between others, in shares of the radius, and whose pressure does as well. */
const ASIDE = 0.01;
const PRESS_ASIDE = 0.02;
const MOST_LEFT_OUT = 24;
/** Segments are no longer than so many radii: a box holds a short one more closely. */
const LONGEST = 2;
/** The lightest pressure still leaves something. */
const LEAST_PRESSURE = 0.05;

type Box = readonly [left: number, top: number, right: number, bottom: number];

/** A map from whole pixels to the photo, and back. */
function ways({ map }: FilmPlace): { there: Matrix; back: Matrix } {
  const whole = inTurn(moveBy(0.5, 0.5), map);
  const there = whole.map((v) => v / whole[8]) as unknown as Matrix;
  return { there, back: inverse(there) };
}

/** What pixels a part of the photo may be seen in. */
function boxOf(back: Matrix, left: number, top: number, right: number, bottom: number): Box {
  const corners = [mapped(back, left, top), mapped(back, right, top), mapped(back, left, bottom), mapped(back, right, bottom)];
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  return [Math.floor(Math.min(...xs)) - 1, Math.floor(Math.min(...ys)) - 1, Math.ceil(Math.max(...xs)) + 1, Math.ceil(Math.max(...ys)) + 1];
}

interface Swept {
  readonly box: Box;
  readonly stroke: Stroke;
  readonly segments: readonly { readonly box: Box; readonly numbers: readonly number[] }[];
}

/** Whether a point can be left out of the way from one to another. */
function between(a: StrokePoint, b: StrokePoint, p: StrokePoint, most: number): boolean {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const square = dx * dx + dy * dy;
  const way = square > 0 ? ((p.x - a.x) * dx + (p.y - a.y) * dy) / square : 0;
  if (way < 0 || way > 1) return false;
  const off = Math.hypot(p.x - a.x - way * dx, p.y - a.y - way * dy);
  return off <= most && Math.abs(p.pressure - a.pressure - way * (b.pressure - a.pressure)) <= PRESS_ASIDE;
}

/**
 * The points of a stroke that are needed. From each one the way goes as far as all that lie between stay close to it; what is kept depends on nothing that comes
 * later, so a stroke looks the same while it is painted and ever after.
 */
export function needed(points: readonly StrokePoint[], size: number): StrokePoint[] {
  const kept: StrokePoint[] = points.slice(0, 1);
  let from = 0;
  for (let i = 2; i < points.length; i++) {
    const open = points.slice(from + 1, i);
    const holds = open.length < MOST_LEFT_OUT && open.every((p) => between(points[from] as StrokePoint, points[i] as StrokePoint, p, ASIDE * size));
    if (holds) continue;
    from = i - 1;
    kept.push(points[from] as StrokePoint);
  }
  return points.length > 1 ? [...kept, points.at(-1) as StrokePoint] : kept;
}

/** A way in pieces of equal length, none longer than `most`. */
function inPieces([a, b]: readonly [StrokePoint, StrokePoint], most: number): [StrokePoint, StrokePoint][] {
  const count = Math.max(1, Math.ceil(Math.hypot(b.x - a.x, b.y - a.y) / most));
  const at = (k: number): StrokePoint => {
    const t = k / count;
    return { x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t, pressure: a.pressure + (b.pressure - a.pressure) * t, ms: a.ms };
  };
  return Array.from({ length: count }, (_, k) => [at(k), at(k + 1)]);
}

function swept(stroke: Stroke, back: Matrix): Swept {
  const points = needed(pointsOf(stroke), stroke.size);
  const press = ({ pressure }: StrokePoint): number => Math.max(LEAST_PRESSURE, pressure);
  const radius = (p: StrokePoint): number => stroke.size * (stroke.pressure === 'size' ? press(p) : 1);
  const flow = (p: StrokePoint): number => stroke.flow * (stroke.pressure === 'flow' ? press(p) : 1);
  const pairs = points.length === 1 ? [[points[0], points[0]]] : points.slice(1).map((p, i) => [points[i], p]);
  const pieces = (pairs as [StrokePoint, StrokePoint][]).flatMap((pair) => inPieces(pair, LONGEST * stroke.size));
  const segments = pieces.map(([a, b]) => {
    const [dx, dy, r] = [b.x - a.x, b.y - a.y, Math.max(radius(a), radius(b))];
    const square = dx * dx + dy * dy;
    return {
      box: boxOf(back, Math.min(a.x, b.x) - r, Math.min(a.y, b.y) - r, Math.max(a.x, b.x) + r, Math.max(a.y, b.y) + r),
      numbers: [a.x, a.y, dx, dy, square > 0 ? 1 / square : 0, radius(a), radius(b) - radius(a), flow(a), flow(b) - flow(a)],
    };
  });
  const most = (c: 0 | 1 | 2 | 3, of: (...v: number[]) => number): number => segments.reduce((v, { box }) => of(v, box[c]), segments[0]?.box[c] ?? 0);
  return { stroke, segments, box: [most(0, Math.min), most(1, Math.min), most(2, Math.max), most(3, Math.max)] };
}

/** The table of some strokes for the kernels. */
export function strokesTable(strokes: readonly Stroke[], place: FilmPlace): Float32Array {
  const { there, back } = ways(place);
  const all = strokes.map((stroke) => swept(stroke, back));
  const count = all.reduce((sum, { segments }) => sum + segments.length, 0);
  const table = new Float32Array(HEAD + EACH * (all.length + count));
  table.set(there);
  table[12] = all.length;
  let at = HEAD + EACH * all.length;
  all.forEach(({ box, stroke: { softness, erase }, segments }, i) => {
    table.set([...box, erase ? -1 : 1, 1 / Math.max(softness, 1e-3), at, segments.length], HEAD + EACH * i);
    for (const { numbers, box: own } of segments) {
      table.set(numbers, at);
      table.set(own, at + 9);
      at += EACH;
    }
  });
  return table;
}

/** Expression of what a painting makes of coverage, in as many tables as keep what is done from what is being done. Strokes that are not at hand are left out. */
function inPacks(name: string, place: FilmPlace, base: Image, make: typeof painted): Image {
  const { strokes } = place.resources ?? noResources;
  const { names } = strokes.chainTo(name);
  const live = names.filter(isLive);
  const kept = names.slice(0, names.length - live.length);
  const whole = kept.length - (kept.length % PACK);
  const at = place.map.join(' ');
  return [kept.slice(0, whole), kept.slice(whole), live]
    .filter((pack) => pack.length > 0)
    .reduce((image, pack) => {
      const id = `strokes ${at} ${pack[0] as string} ${pack.at(-1) as string}`;
      // As they are now: one that is being painted may have gone when the table is made.
      const all = pack.map((each) => strokes.strokeOf(each));
      return make(image, { id, make: () => strokesTable(all, place) });
    }, base);
}

/** Coverage that a painting leaves on others. */
export const painting = (name: string, place: FilmPlace, base: Image): Image => inPacks(name, place, base, painted);
/** Stops that a painting adds up to. */
export const lightMap = (name: string, place: FilmPlace, base: Image): Image => inPacks(name, place, base, lit);
