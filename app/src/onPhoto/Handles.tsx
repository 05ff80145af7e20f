import { StyleSheet, View } from 'react-native';
import { Path, Rect } from 'react-native-svg';
import type { Handle } from '@bexlen/core';
import { Recede } from '../controls/held';
import { useHeld } from '../state/held';
import { usePointer } from '../controls/usePointer';
import { apart, drawn, nudged, type ShownGrip } from './handle';
import type { Numbers } from './shapes';
import type { Ways } from './places';
import { ON_PHOTO, Scale } from './Lines';
import { say, inSentence } from '../words';

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

/** Which way a grip looks on the screen, in degrees. */
function screenAngle({ at, angleDeg = 0 }: ShownGrip, { toScreen }: Ways): number {
  const way = (angleDeg * Math.PI) / 180;
  const [a, b] = [toScreen(at), toScreen({ x: at.x + 0.01 * Math.cos(way), y: at.y + 0.01 * Math.sin(way) })];
  return (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI;
}

/** Marks that grow from where a shape is whole to where it ends; grips like the caps of faders. They step back while a fader moves. */
export function Handles({ target, ways }: { target: Handled; ways: Ways }) {
  const held = useHeld((state) => state.id === ON_PHOTO);
  const { outline, grips: lying } = drawn(target.handle, target.values);
  const grips = apart(lying, 1 / ways.scale);
  return (
    <Recede mine={(id) => id === ON_PHOTO} style={StyleSheet.absoluteFill}>
      <Scale handle={target.handle} values={target.values} lines={outline} ways={ways}>
        {!held && grips.map((grip) => <Cap key={grip.id} grip={grip} ways={ways} />)}
      </Scale>
      {grips.map((grip) => (
        <KeyGrip key={grip.id} grip={grip} target={target} ways={ways} />
      ))}
    </Recede>
  );
}

/** The cap of a fader that goes one way, with one groove; or of what goes every way, square and with two. */
export function FaderCap({ x, y, turn, every = false, scale = 1 }: { x: number; y: number; turn: number; every?: boolean; scale?: number }) {
  const [w, h] = every ? [9 * scale, 9 * scale] : [5 * scale, 10 * scale];
  const groove = h - 3 * scale;
  return (
    <>
      <Rect
        x={x - w}
        y={y - h}
        width={2 * w}
        height={2 * h}
        rx={2}
        fill="#d6d6d6"
        stroke="rgba(0,0,0,0.7)"
        strokeWidth={1.5}
        transform={`rotate(${turn.toFixed(1)} ${x.toFixed(1)} ${y.toFixed(1)})`}
      />
      <Path
        d={`M${x} ${y - groove}v${2 * groove}${every ? `M${x - groove} ${y}h${2 * groove}` : ''}`}
        stroke="#2b261a"
        strokeWidth={1.5}
        transform={`rotate(${turn.toFixed(1)} ${x.toFixed(1)} ${y.toFixed(1)})`}
      />
    </>
  );
}

function Cap({ grip, ways }: { grip: ShownGrip; ways: Ways }) {
  const { x, y } = ways.toScreen(grip.shown);
  const every = grip.angleDeg === undefined;
  return <FaderCap x={x} y={y} turn={every ? 0 : screenAngle(grip, ways)} every={every} />;
}

const ARROWS: Record<string, readonly [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** A grip for keys and screen readers; fingers take the photo itself. */
function KeyGrip({ grip, target, ways }: { grip: ShownGrip; target: Handled; ways: Ways }) {
  const { x, y } = ways.toScreen(grip.shown);
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
      aria-label={say.onPhoto.labelOfLabel(grip.label, inSentence(target.label))}
      aria-valuetext={say.onPhoto.xAcrossYDown(Math.round(grip.at.x * 1000) / 10, Math.round(grip.at.y * 1000) / 10)}
      tabIndex={0}
      pointerEvents="none"
      style={[styles.grip, { left: x - 22, top: y - 22 }]}
    />
  );
}

const styles = StyleSheet.create({
  grip: { position: 'absolute', width: 44, height: 44, borderRadius: 22 },
});
