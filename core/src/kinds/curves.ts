import { unit } from '../clamp';
import { curveFunction, NODE_GAP, type Curve, type Node } from '../pixels/curve';
import { curves as byCurves } from '../expressions/image';
import { byTone, fromOklab, toOklab } from '../expressions/colour';
import { defineKind } from './define';
import { toneCurve } from '../params';
import { channelTables, lightnessTable } from './tables';

const isStraight = ({ nodes }: Curve): boolean => nodes.every(([x, y]) => x === y) && nodes[0]?.[0] === 0 && nodes.at(-1)?.[0] === 1;

/** Nodes nearer than this to a place are taken along instead of a new one being set. */
const NEAR = 0.06;

/** A curve with its node at a tone moved up or down; a node is set there if there is none. */
export function pulled(curve: Curve, at: number, by: number): Curve {
  const y = unit(curveFunction(curve)(at) + by);
  const nearest = curve.nodes.findIndex(([x], i) => Math.abs(x - at) < NEAR && i > 0 && i < curve.nodes.length - 1);
  const nodes: Curve['nodes'] =
    nearest >= 0
      ? curve.nodes.map((node, i) => (i === nearest ? [node[0], y] : node))
      : [...curve.nodes.filter(([x]) => Math.abs(x - at) > NODE_GAP), [at, y] as Node].sort(([a], [b]) => a - b);
  return { ...curve, nodes };
}

/** A smooth curve through nodes. */
const through = (...nodes: [number, number][]): Curve => ({ shape: 'smooth', nodes });

/**
 * Tone curves of any shape: for red, green and blue apart and then for all of them, on encoded values; and for OKLab lightness, which leaves hue and
 * chroma as they are.
 */
export const curves = defineKind({
  id: 'curves',
  family: 'tone',
  label: 'Curves',
  note: 'Bends the tones freely, also down and up again.',
  space: 'encoded',
  params: {
    all: toneCurve('All', 'All'),
    red: toneCurve('Red', 'Red'),
    green: toneCurve('Green', 'Green'),
    blue: toneCurve('Blue', 'Blue'),
    lightness: toneCurve('Lightness', 'Lightness'),
  },
  byDefault: 'neutral',
  variants: [
    { label: 'Gentle S', params: { all: through([0, 0], [0.25, 0.18], [0.75, 0.82], [1, 1]) } },
    { label: 'Lifted blacks', params: { all: through([0, 0.14], [0.3, 0.3], [1, 0.96]) } },
    { label: 'Valley', params: { all: through([0, 1], [0.5, 0.5], [1, 1]) } },
    { label: 'W', params: { all: through([0, 1], [0.3, 0.15], [0.5, 0.6], [0.72, 0.1], [1, 1]) } },
    { label: 'Turned over', params: { all: through([0, 1], [1, 0]) } },
  ],
  shown: {
    all: {
      shape: 'smooth',
      nodes: [
        [0, 0],
        [0.25, 0.17],
        [0.75, 0.83],
        [1, 1],
      ],
    },
  },
  drag: (spot, values, amount, section = 'All') => {
    const name = section.toLowerCase() as keyof typeof values;
    const at = { all: spot.tone, red: spot.rgb[0], green: spot.rgb[1], blue: spot.rgb[2], lightness: spot.lightness }[name];
    const curve = pulled(values[name], at, amount * 0.5);
    const y = curveFunction(curve)(at);
    return { label: `${section} at ${Math.round(at * 255)} becomes ${Math.round(y * 255)}`, values: { [name]: curve } };
  },
  work: (read, { all, red, green, blue, lightness }) => {
    const id = `curves ${JSON.stringify([all, red, green, blue])}`;
    const over = curveFunction(all);
    const through = (own: Curve) => {
      const first = curveFunction(own);
      return (x: number): number => over(first(x));
    };
    const bent = [all, red, green, blue].every(isStraight) ? read : byCurves(read, channelTables(id, [through(red), through(green), through(blue)]));
    if (isStraight(lightness)) return bent;
    const f = curveFunction(lightness);
    const table = lightnessTable(`lightness ${JSON.stringify(lightness)}`, (l) => ({ lift: f(l) - l, a: 0, b: 0, keep: 1 }));
    return fromOklab(byTone(toOklab(bent), table));
  },
});
