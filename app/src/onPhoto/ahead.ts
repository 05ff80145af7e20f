import { nameOf, newPart, traceOf, type Part, type ParamValue, type StrokePoint } from '@bexlen/core';
import { usePreview } from '../engine/shown';
import { useWhere, type Ahead } from '../state/byHand';
import { newId } from '../state/ids';
import { resources } from '../state/resources';
import { shareOf } from '../state/look';
import type { PhotoDrag } from './drag';
import { pickedAt } from './picks';
import { halvesOf, waysNow, type Point, type Seen, type Ways } from './places';

/** A line is a stroke where it is so much longer than what it spans: it goes to and fro. */
const WINDS = 1.7;
/** An oval that was drawn along one way only is at least so wide across it, as a share. */
const ROUND = 0.45;
const LEAST = 0.01;

/** What a line that is drawn on the photo means: an oval from its middle outward, or a stroke where it winds. */
export function meantBy(points: readonly Point[]): 'oval' | 'stroke' {
  const [xs, ys] = [points.map(({ x }) => x), points.map(({ y }) => y)];
  const spanned = Math.hypot(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
  const length = points.reduce(
    (sum, { x, y }, i) => sum + (i === 0 ? 0 : Math.hypot(x - (points[i - 1] as Point).x, y - (points[i - 1] as Point).y)),
    0,
  );
  return length > WINDS * spanned ? 'stroke' : 'oval';
}

/** An oval about a middle, as wide and high as a finger has gone from there. */
export function ovalTo(middle: Point, to: Point): Record<string, number> {
  const [w, h] = [Math.abs(to.x - middle.x), Math.abs(to.y - middle.y)];
  const least = Math.max(LEAST, ROUND * Math.max(w, h));
  return { x: middle.x, y: middle.y, width: Math.max(least, w), height: Math.max(least, h) };
}

/** Keeps what was painted, and names it in a part. */
function strokePart(points: readonly StrokePoint[]): Part {
  const { size, softness, flow, pressure } = useWhere.getState().brush;
  const painted = { after: '', stroke: { size, softness, flow, erase: false, pressure, trace: traceOf(points) } };
  const name = nameOf(painted);
  resources.strokes.set(name, painted);
  return partOf('brush', { strokes: name });
}
function partOf(kind: 'spot' | 'oval' | 'brush', values: Record<string, ParamValue>): Part {
  const part = newPart(kind, newId(), 'add');
  return { ...part, params: { ...part.params, ...values } } as Part;
}

/** A finger on the photo while the rack is open says where the next layer is to land: a tap for what is there, a line for an oval, a winding one for a stroke. A second tap takes it back. */
export function aheadDrag(seen: Seen, ways: Ways): PhotoDrag {
  let points: StrokePoint[] = [];
  let from: Point = { x: 0, y: 0 };
  const set = (ahead: Ahead | undefined): void => useWhere.setState({ ahead });
  const [w, h] = halvesOf(seen);
  const halved = ({ x, y }: Point): Point => ({ x: x / w, y: y / h });
  const where = (at: Point): Pick<Ahead, 'at' | 'inHalves'> => ({
    at: ways.toPlace(at),
    inHalves: halved(waysNow(seen, true)?.toPlace(at) ?? { x: 0, y: 0 }),
  });
  const add = (at: Point, event: PointerEvent): void =>
    void points.push({
      ...ways.toPlace(at),
      pressure: event.pointerType === 'pen' ? event.pressure || 0.5 : 1,
      ms: Math.max(0, event.timeStamp - began),
    });
  let began = 0;
  const drawn = (whole: boolean): Ahead | undefined => {
    const last = points.at(-1);
    if (!points[0] || !last) return undefined;
    if (meantBy(points) === 'oval') return { part: partOf('oval', ovalTo(points[0], last)), line: [], ...where(from) };
    return { part: whole ? strokePart(points) : partOf('brush', {}), line: points, ...where(from) };
  };
  return {
    atOnce: false,
    down: (at, event) => {
      [points, from, began] = [[], at, event.timeStamp];
      add(at, event);
      return true;
    },
    move: ({ x, y }, event) => {
      add({ x, y }, event);
      set(drawn(false));
    },
    up: () => set(drawn(true)),
    cancel: () => set(undefined),
    tap: (at) => {
      const { u, v } = at ? shareOf(at, seen.look, seen.area, seen.picture) : { u: -1, v: -1 };
      const spot = partOf('spot', {});
      const { original, frame } = usePreview.getState();
      const image = spot.reads === 'photo' ? original : frame?.image;
      if (!at || !image || u < 0 || v < 0 || u > 1 || v > 1) return set(undefined);
      set({ part: { ...spot, params: { ...spot.params, ...pickedAt(spot, image, u, v, ways.toPlace(at)) } } as Part, line: [], ...where(at) });
    },
  };
}
