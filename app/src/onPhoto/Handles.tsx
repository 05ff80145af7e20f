import { StyleSheet, View } from 'react-native';
import Svg, { Circle, Line, Path, Rect } from 'react-native-svg';
import type { Handle } from '@bexlen/core';
import { Recede } from '../controls/held';
import { useHeld } from '../state/held';
import { usePointer } from '../controls/usePointer';
import { drawn, nudged, type Grip, type Numbers } from './handle';
import type { Point, Ways } from './places';

/** Names what is held on the photo. */
export const ON_PHOTO = 'on-photo';
const NUDGE_PX = 2;

/** Something with controls on the photo: a part of a mask, or a layer by its kind. Values are numbers about the same middle as its ways. */
export interface Handled {
  readonly handle: Handle;
  readonly label: string;
  readonly values: Numbers;
  readonly onPicture: boolean;
  readonly show: (values: Numbers) => void;
  readonly keep: (values: Numbers) => void;
}

const pathOf = (points: readonly Point[], { toScreen }: Ways): string =>
  points
    .map(toScreen)
    .map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`)
    .join('');

/** Which way a grip looks on the screen, in degrees. */
function screenAngle({ at, angleDeg = 0 }: Grip, { toScreen }: Ways): number {
  const way = (angleDeg * Math.PI) / 180;
  const [a, b] = [toScreen(at), toScreen({ x: at.x + 0.01 * Math.cos(way), y: at.y + 0.01 * Math.sin(way) })];
  return (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI;
}

/** Light lines within dark ones, so that they are seen on anything; grips like small fader caps. They step back while a fader moves. */
export function Handles({ target, ways }: { target: Handled; ways: Ways }) {
  const held = useHeld((state) => state.id === ON_PHOTO);
  const { lines, grips } = drawn(target.handle, target.values);
  return (
    <Recede mine={(id) => id === ON_PHOTO} style={StyleSheet.absoluteFill}>
      <View style={StyleSheet.absoluteFill} pointerEvents="none">
        <Svg width="100%" height="100%">
          {lines.map(({ points, faint }, i) => (
            <Path key={`d${i}`} d={pathOf(points, ways)} stroke="rgba(0,0,0,0.55)" strokeWidth={faint ? 3 : 4} fill="none" />
          ))}
          {lines.map(({ points, faint }, i) => (
            <Path
              key={`l${i}`}
              d={pathOf(points, ways)}
              stroke="rgba(255,255,255,0.95)"
              strokeWidth={faint ? 1 : 1.5}
              {...(faint && { strokeDasharray: '7 5' })}
              fill="none"
            />
          ))}
          {!held && grips.map((grip) => <Cap key={grip.id} grip={grip} ways={ways} />)}
        </Svg>
      </View>
      {grips.map((grip) => (
        <KeyGrip key={grip.id} grip={grip} target={target} ways={ways} />
      ))}
    </Recede>
  );
}

function Cap({ grip, ways }: { grip: Grip; ways: Ways }) {
  const { x, y } = ways.toScreen(grip.at);
  if (grip.angleDeg === undefined)
    return (
      <>
        <Circle cx={x} cy={y} r={7} fill="none" stroke="rgba(0,0,0,0.6)" strokeWidth={4} />
        <Circle cx={x} cy={y} r={7} fill="none" stroke="#fff" strokeWidth={1.5} />
      </>
    );
  const turn = `rotate(${screenAngle(grip, ways).toFixed(1)} ${x.toFixed(1)} ${y.toFixed(1)})`;
  return (
    <>
      <Rect x={x - 5} y={y - 10} width={10} height={20} rx={2} fill="#d6d6d6" stroke="rgba(0,0,0,0.7)" strokeWidth={1.5} transform={turn} />
      <Line x1={x} y1={y - 7} x2={x} y2={y + 7} stroke="#2b261a" strokeWidth={1.5} transform={turn} />
    </>
  );
}

const ARROWS: Record<string, readonly [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** A grip for keys and screen readers; fingers take the photo itself. */
function KeyGrip({ grip, target, ways }: { grip: Grip; target: Handled; ways: Ways }) {
  const { x, y } = ways.toScreen(grip.at);
  const ref = usePointer({
    down: () => false,
    key: (event) => {
      const arrow = ARROWS[event.key];
      if (!arrow) return;
      event.preventDefault();
      const step = (NUDGE_PX * (event.shiftKey ? 10 : 1)) / ways.scale;
      target.keep(nudged(target.handle, grip, target.values, arrow[0] * step, arrow[1] * step));
    },
  });
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={`${grip.label} of ${target.label.toLowerCase()}`}
      aria-valuetext={`${Math.round(grip.at.x * 1000) / 10} across, ${Math.round(grip.at.y * 1000) / 10} down`}
      tabIndex={0}
      pointerEvents="none"
      style={[styles.grip, { left: x - 22, top: y - 22 }]}
    />
  );
}

const styles = StyleSheet.create({
  grip: { position: 'absolute', width: 44, height: 44, borderRadius: 22 },
});
