import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import Svg, { Path } from 'react-native-svg';
import { partKindOf, type Handle, type Part, type Sample } from '@bexlen/core';
import { Recede } from '../controls/held';
import { useWhere, type Ahead } from '../state/byHand';
import { useHeld } from '../state/held';
import type { Point, Ways } from './places';
import { tickLength, ticksOf } from './scale';
import { numbersOf, type Numbers } from './shapes';

/** Names what is held on the photo. */
export const ON_PHOTO = 'on-photo';

/** A light line within a dark one, so that it is seen on anything. */
export function LightLine({ d, width = 1.5 }: { d: string; width?: number }) {
  if (d === '') return null;
  return (
    <>
      <Path d={d} stroke="rgba(0,0,0,0.55)" strokeWidth={width + 2} fill="none" strokeLinecap="round" />
      <Path d={d} stroke="rgba(255,255,255,0.95)" strokeWidth={width} fill="none" strokeLinecap="round" />
    </>
  );
}

const circle = (x: number, y: number, r: number): string => `M${x + r} ${y}A${r} ${r} 0 1 1 ${x - r} ${y}A${r} ${r} 0 1 1 ${x + r} ${y}`;
const pathOf = (points: readonly Point[], { toScreen }: Ways): string =>
  points
    .map(toScreen)
    .map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`)
    .join('');

/** The marks of a scale, each as long as it is far from where the shape is whole. */
const scalePath = (handle: Handle, values: Numbers, { toScreen, middle, reach, scale }: Ways): string =>
  ticksOf(handle, values, { middle, reach, pixel: 1 / scale })
    .map(({ at, way, share }) => {
      const [a, b] = [toScreen(at), toScreen({ x: at.x + way.x / scale, y: at.y + way.y / scale })];
      const half = tickLength(share) / 2 / Math.max(1e-6, Math.hypot(b.x - a.x, b.y - a.y));
      const [x, y] = [(b.x - a.x) * half, (b.y - a.y) * half];
      return `M${(a.x - x).toFixed(1)} ${(a.y - y).toFixed(1)}L${(a.x + x).toFixed(1)} ${(a.y + y).toFixed(1)}`;
    })
    .join('');

interface ScaleProps {
  readonly handle: Handle | undefined;
  readonly values: Numbers;
  /** Lines besides, in places. */
  readonly lines: readonly Point[];
  readonly ways: Ways;
  readonly children?: ReactNode;
}

/** The scale of a shape, light within dark, so that it is seen on anything. */
export function Scale({ handle, values, lines, ways, children }: ScaleProps) {
  return (
    <View style={StyleSheet.absoluteFill} pointerEvents="none">
      <Svg width="100%" height="100%">
        <LightLine d={(handle ? scalePath(handle, values, ways) : '') + pathOf(lines, ways)} />
        {children}
      </Svg>
    </View>
  );
}

/** Where the next layer is to land: its oval, the place that was tapped, or the stroke. */
export function AheadSeen({ ahead: { part, line }, ways }: { ahead: Ahead; ways: Ways }) {
  const { handle } = partKindOf(part.part);
  if (part.part === 'spot') return <Taps part={part} ways={ways} />;
  return <Scale handle={handle} values={numbersOf(part.params)} lines={line} ways={ways} />;
}

/** Where the photo was tapped. */
export function Taps({ part, ways }: { part: Part; ways: Ways }) {
  const { pick, handle } = partKindOf(part.part);
  const places = pick?.samples ? (part.params[pick.samples] as readonly Sample[]) : [];
  const radii = handle?.shape === 'spot' ? [Number(part.params[handle.reach]) * ways.scale, 5] : [5];
  return (
    <Recede mine={(id) => id === ON_PHOTO} style={StyleSheet.absoluteFill}>
      <View style={StyleSheet.absoluteFill} pointerEvents="none">
        <Svg width="100%" height="100%">
          <LightLine
            d={places
              .map(ways.toScreen)
              .flatMap(({ x, y }) => radii.map((r) => circle(x, y, r)))
              .join('')}
          />
        </Svg>
      </View>
    </Recede>
  );
}

const SPOKES = 16;
/** Short lines from where a brush of a radius begins to fade to its rim, in a square around it. */
const spokes = (r: number, from: number): string =>
  Array.from({ length: SPOKES }, (_, i) => (2 * Math.PI * i) / SPOKES)
    .map((way) => [Math.cos(way), Math.sin(way)] as const)
    .map(([x, y]) => `M${r + from * x} ${r + from * y}L${r + r * x} ${r + r * y}`)
    .join('');

/** The brush at its true size: its rim, and from where on it fades. */
export function BrushOutline({ ways }: { ways: Ways }) {
  const { at, brush, sizing } = useWhere(useShallow(({ at, brush, sizing }) => ({ at, brush, sizing })));
  const held = useHeld(({ id }) => id?.startsWith('brush-') === true || id === ON_PHOTO);
  const place: Partial<Point> | undefined = at ?? (held || sizing ? {} : undefined);
  if (!place) return null;
  const r = brush.size * ways.scale;
  const lines = circle(r, r, r) + spokes(r, r * (1 - brush.softness));
  return (
    <View pointerEvents="none" style={[styles.outline, { left: place.x ?? '50%', top: place.y ?? '50%', width: 2 * r, height: 2 * r, margin: -r }]}>
      <Svg width="100%" height="100%" style={styles.over}>
        <LightLine d={lines} width={1} />
      </Svg>
    </View>
  );
}

const styles = StyleSheet.create({
  outline: { position: 'absolute' },
  over: { overflow: 'visible' },
});
