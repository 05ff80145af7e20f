import {
  change,
  find,
  liveName,
  nameOf,
  reachOf,
  filmPlaceOf,
  rows,
  traceOf,
  type Layer,
  type Rect,
  type Stack,
  type StrokePoint,
} from '@bexlen/core';
import { commit, inForce, notify, show, useBench } from '../state/bench';
import { paintOn } from '../engine/preview';
import { resources } from '../state/resources';
import type { Point, Ways } from './places';
import { useWhere, type Canvas } from '../state/byHand';
import { say } from '../words';

/** Points nearer than this share of the radius add nothing that could be seen. */
const LEAST_STEP = 0.04;
const MOST_POINTS = 4000;

/** The name of what is painted on a canvas. */
export function headOf(stack: Stack, { layerId, partId, param }: Canvas): string {
  const layer = find(stack.layers, layerId);
  const params =
    partId === undefined ? (layer && layer.kind !== 'group' ? layer.params : {}) : layer?.mask.parts.find(({ id }) => id === partId)?.params;
  return String(params?.[param] ?? '');
}

export function withHead(stack: Stack, { layerId, partId, param }: Canvas, name: string): Stack {
  return change(stack, layerId, (layer) => {
    if (partId !== undefined)
      return {
        ...layer,
        mask: {
          ...layer.mask,
          parts: layer.mask.parts.map((part) => (part.id === partId ? { ...part, params: { ...part.params, [param]: name } } : part)),
        },
      };
    return layer.kind === 'group' ? layer : { ...layer, params: { ...layer.params, [param]: name } };
  });
}

/** How far beyond where it is painted a change is seen, in pixels of the full-size photo: by what comes of the mask, and by the layers behind. */
function reachBehind(stack: Stack, layer: Layer, photo: { readonly width: number; readonly height: number }): number {
  const place = filmPlaceOf(photo);
  const all = rows(stack.layers).map((row) => row.layer);
  const at = all.findIndex(({ id }) => id === layer.id);
  const behind = all.slice(layer.masked ? at : at + 1).filter(({ kind }) => kind !== 'group');
  const own = layer.mask.soften * 4.5 + (layer.mask.parts.some(({ keep }) => keep > 0) ? 0.1 : 0);
  return own * place.edge + reachOf({ ...stack, layers: behind.map((it) => ({ ...it, reads: 'below' })) }, place);
}

interface Stroking {
  readonly canvas: Canvas;
  readonly stack: Stack;
  readonly after: string;
  readonly erase: boolean;
  readonly points: StrokePoint[];
  readonly ways: Ways;
  readonly began: number;
  readonly reach: number;
  readonly photo: { readonly width: number; readonly height: number };
}

let stroking: Stroking | undefined;
let count = 0;

const painted = ({ after, erase, points }: Stroking) => {
  const { size, softness, flow, pressure } = useWhere.getState().brush;
  return { after, stroke: { size, softness, flow, erase, pressure, trace: traceOf(points) } };
};

/** A pen says how hard it is pressed; a finger and a mouse press fully. */
const pressureOf = (event: PointerEvent): number => (event.pointerType === 'pen' ? event.pressure || 0.5 : 1);

export function beginStroke(canvas: Canvas, ways: Ways, at: Point, event: PointerEvent): boolean {
  const { photo, history } = useBench.getState();
  const stack = inForce(history);
  const layer = find(stack.layers, canvas.layerId);
  if (!photo || !layer) return false;
  const erase = useWhere.getState().brush.erase || event.button === 5 || (event.buttons & 32) !== 0;
  stroking = {
    canvas,
    stack,
    after: headOf(stack, canvas),
    erase,
    points: [],
    ways,
    began: event.timeStamp,
    reach: reachBehind(stack, layer, photo),
    photo,
  };
  addPoint(at, event);
  return true;
}

/** Takes the points that the browser has gathered since the last frame, too. */
export function moveStroke(toArea: (event: PointerEvent) => Point, event: PointerEvent): void {
  const gathered = typeof event.getCoalescedEvents === 'function' ? event.getCoalescedEvents() : [];
  for (const each of gathered.length > 0 ? gathered : [event]) addPoint(toArea(each), each, false);
  seeStroke();
}

function addPoint(at: Point, event: PointerEvent, see = true): void {
  if (!stroking) return;
  const { points, ways, began } = stroking;
  const place = ways.toPlace(at);
  const last = points.at(-1);
  const { size } = useWhere.getState().brush;
  if (last && (Math.hypot(place.x - last.x, place.y - last.y) < LEAST_STEP * size || points.length >= MOST_POINTS)) return;
  points.push({ ...place, pressure: pressureOf(event), ms: Math.max(0, event.timeStamp - began) });
  if (see) seeStroke();
}

let seenPoints = 0;
/** Shows the stroke as far as it has come: only where it is new. */
function seeStroke(): void {
  if (!stroking) return;
  const { canvas, stack, points, photo, reach, ways } = stroking;
  if (points.length === seenPoints) return;
  const fresh = points.slice(Math.max(0, seenPoints - 1));
  seenPoints = points.length;
  const name = liveName(++count);
  resources.strokes.set(name, painted(stroking));
  paintOn(withHead(stack, canvas, name), areaOf(fresh, ways, photo, reach));
}

/** Where the picture changes by some points, as shares of it. */
function areaOf(points: readonly StrokePoint[], ways: Ways, photo: { readonly width: number; readonly height: number }, reach: number): Rect {
  const { size } = useWhere.getState().brush;
  const r = size + reach / Math.max(photo.width, photo.height);
  const corners = points.flatMap(({ x, y }) => [-r, r].flatMap((dx) => [-r, r].map((dy) => ways.toShare({ x: x + dx, y: y + dy }))));
  const [xs, ys] = [corners.map(({ x }) => x), corners.map(({ y }) => y)];
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, w: Math.max(...xs) - x, h: Math.max(...ys) - y };
}

export function endStroke(): void {
  const done = stroking;
  stroking = undefined;
  seenPoints = 0;
  if (!done) return;
  const whole = painted(done);
  const name = nameOf(whole);
  resources.strokes.set(name, whole);
  const layer = find(done.stack.layers, done.canvas.layerId);
  if (!layer) return notify(say.onPhoto.theLayerThatWasPaintedOn);
  const what = done.canvas.light ? (done.erase ? 'burnt' : 'dodged') : done.erase ? say.onPhoto.maskRubbedOut : say.onPhoto.maskPainted;
  commit(withHead(done.stack, done.canvas, name), `${layer.name}: ${what}`);
}

export function cancelStroke(): void {
  const done = stroking;
  stroking = undefined;
  seenPoints = 0;
  if (done) show(done.stack);
}
