import { inverse, inTurn, mapped, moveBy, scaleBy, turnBy, type Matrix } from '../geometry/matrix';
import type { FilmPlace } from '../geometry/shape';
import { filtered, type Image } from '../expressions/image';
import { defineKind } from './define';
import { angle, choice, length, number, percent, place } from '../params';

/** So many places are looked at in one go at most; more take several goes, each of what the last one made. */
const AT_ONCE = 8;

/**
 * What moves, or turns, or comes nearer while the shutter is open: the mean over all moments. Moments that lie apart evenly are looked at in two or three goes: in the
 * first the nearest ones, then, of what that made, those further off.
 * @param at the map from pixels at no moment to those at a moment, -0.5 to 0.5.
 * @param farPx how far a pixel moves in all, at most.
 */
function moving(read: Image, at: (moment: number) => Matrix, farPx: number, corners: readonly (readonly [number, number])[]): Image {
  const wanted = Math.max(2, farPx);
  const goes = wanted <= AT_ONCE ? 1 : wanted <= AT_ONCE * AT_ONCE ? 2 : 3;
  const each = Math.ceil(wanted ** (1 / goes));
  let image = read;
  for (let go = 0; go < goes; go++) {
    const step = each ** go / each ** goes;
    const seen = Array.from({ length: each }, (_, j) => at((j - (each - 1) / 2) * step));
    const reach = Math.max(...seen.flatMap((map) => corners.map(([x, y]) => Math.hypot(mapped(map, x, y)[0] - x, mapped(map, x, y)[1] - y))));
    image = filtered(image, 'sweep', [reach, ...seen.flatMap(([a, b, c, d, e, f]) => [a, b, c, d, e, f])]);
  }
  return image;
}

/** The picture's corners and a place of the photo, in pixels. */
function pixelsOf({ map, picture }: FilmPlace, x: number, y: number): { corners: [number, number][]; centre: [number, number] } {
  const back = inverse(picture.map);
  const corners = [-0.5, 0.5].flatMap((u) => [-0.5, 0.5].map((v) => mapped(back, u * picture.width, v * picture.height)));
  return { corners, centre: mapped(inverse(map), x, y) };
}

/** Blur of what moves: straight on, turning, or coming nearer; in linear light. */
export const motionBlur = defineKind({
  id: 'motion-blur',
  family: 'focus',
  label: 'Motion blur',
  note: 'As if the camera moved, turned or came nearer.',
  space: 'linear',
  params: {
    way: choice('Movement', [
      { id: 'straight', label: 'Straight' },
      { id: 'turning', label: 'Turning' },
      { id: 'nearer', label: 'Nearer' },
    ]),
    length: length({ label: 'Length', max: 0.1, at: 0.012, middle: 0.02 }),
    angle: angle({ label: 'Direction', min: -180, max: 180 }),
    turn: number({ label: 'Turn', unit: 'degrees', max: 20, step: 0.1, at: 3, middle: 5 }),
    zoom: percent({ label: 'Nearer by', max: 0.2, at: 0.05, middle: 0.06 }),
    x: place({ label: 'Centre across' }),
    y: place({ label: 'Centre down' }),
  },
  byDefault: 'Moved sideways by 1.2 % of the long edge.',
  variants: [
    { label: 'Passing', params: { length: 0.02 } },
    { label: 'Falling', params: { length: 0.015, angle: 90 } },
    { label: 'Turning', params: { way: 'turning' } },
    { label: 'Rushing', params: { way: 'nearer', zoom: 0.08 } },
  ],
  handle: { shape: 'point', x: 'x', y: 'y' },
  work: (read, { way, length: long, angle: angleDeg, turn, zoom, x, y }, at) => {
    const { corners, centre } = pixelsOf(at, x, y);
    const [cx, cy] = centre;
    const about = (map: Matrix): Matrix => inTurn(moveBy(-cx, -cy), map, moveBy(cx, cy));
    const far = Math.max(...corners.map(([u, v]) => Math.hypot(u - cx, v - cy)));
    if (way === 'turning') return turn === 0 ? read : moving(read, (t) => about(turnBy(turn * t + 1e-9)), (far * turn * Math.PI) / 180, corners);
    if (way === 'nearer') return zoom === 0 ? read : moving(read, (t) => about(scaleBy((1 + zoom) ** t, (1 + zoom) ** t)), far * zoom, corners);
    // A direction of the photo, in pixels.
    const rad = (angleDeg * Math.PI) / 180;
    const back = inverse(at.map);
    const [from, to] = [mapped(back, x, y), mapped(back, x + 0.01 * Math.cos(rad), y + 0.01 * Math.sin(rad))];
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    const size = (long * at.edge) / Math.max(1e-9, Math.hypot(dx, dy));
    return long === 0 ? read : moving(read, (t) => moveBy(dx * size * t, dy * size * t), long * at.edge, corners);
  },
});
