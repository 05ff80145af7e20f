import { useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Circle, Line, Path } from 'react-native-svg';
import { hexOf, unit } from '@bexlen/core';
import { colour, web } from '../theme/tokens';
import { hold, letGo } from '../state/held';
import { usePointer, type Drag } from './usePointer';
import { say } from '../words';

interface Props {
  readonly id: string;
  readonly label: string;
  /** Degrees of OKLab hue. */
  readonly hue: number;
  /** 0 in the middle to 1 at the rim. */
  readonly amount: number;
  readonly onShow: (hue: number, amount: number) => void;
  readonly onKeep: (hue: number, amount: number) => void;
}

const SIZE = 168;
const RING = 12;
const REACH = SIZE / 2 - RING - 8;
const PIECES = 36;
const STEPS: Record<string, [number, number]> = { ArrowRight: [5, 0], ArrowLeft: [-5, 0], ArrowUp: [0, 0.05], ArrowDown: [0, -0.05] };

const at = (hue: number, radius: number): [number, number] => {
  const angle = (hue * Math.PI) / 180;
  return [SIZE / 2 + radius * Math.cos(angle), SIZE / 2 - radius * Math.sin(angle)];
};

/** A hue and how much of it: drag the point, out from the middle for more. Drags are relative. */
export function Wheel({ id, label, hue, amount, onShow, onKeep }: Props) {
  const drag = useRef({ x: 0, y: 0, hue, amount });
  const placed = ({ dx, dy }: Drag): void => {
    const x = drag.current.x + dx;
    const y = drag.current.y - dy;
    const far = Math.min(1, Math.hypot(x, y) / REACH);
    const turned = far < 0.005 ? drag.current.hue : Math.round(((Math.atan2(y, x) * 180) / Math.PI + 360) % 360);
    Object.assign(drag.current, { hue: turned, amount: Math.round(far * 100) / 100 });
  };
  const ref = usePointer({
    down: () => {
      const [x, y] = at(hue, amount * REACH);
      drag.current = { x: x - SIZE / 2, y: SIZE / 2 - y, hue, amount };
    },
    move: (now) => {
      placed(now);
      const text = `${drag.current.hue}\u00b0 ${Math.round(drag.current.amount * 100)} %`;
      hold(id, { text, x: now.event.clientX, y: now.event.clientY - 40 });
      onShow(drag.current.hue, drag.current.amount);
    },
    up: (_drag, moved) => {
      letGo();
      if (moved) onKeep(drag.current.hue, drag.current.amount);
    },
    cancel: () => {
      letGo();
      onShow(hue, amount);
    },
    key: (event) => {
      const step = STEPS[event.key];
      if (!step) return;
      event.preventDefault();
      onKeep((hue + step[0] + 360) % 360, unit(amount + step[1]));
    },
  });
  const [px, py] = at(hue, amount * REACH);
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={say.controls.labelLeftAndRightTurnThe(label)}
      aria-valuenow={Math.round(hue)}
      aria-valuemin={0}
      aria-valuemax={360}
      aria-valuetext={say.controls.hueDegreesAmount(Math.round(hue), Math.round(amount * 100))}
      tabIndex={0}
      style={[styles.wheel, web({ touchAction: 'none', cursor: 'grab' })]}
    >
      <Svg width={SIZE} height={SIZE}>
        {Array.from({ length: PIECES }, (_, i) => {
          const [from, to] = [at((i * 360) / PIECES - 0.4, SIZE / 2 - RING / 2), at(((i + 1) * 360) / PIECES + 0.4, SIZE / 2 - RING / 2)];
          return (
            <Path
              key={i}
              d={`M${from.join(' ')}L${to.join(' ')}`}
              stroke={hexOf(0.68, 0.13, ((i + 0.5) * 360) / PIECES)}
              strokeWidth={RING}
              fill="none"
            />
          );
        })}
        <Circle cx={SIZE / 2} cy={SIZE / 2} r={REACH} fill={colour.well} stroke={colour.groove} strokeWidth={1} />
        <Circle cx={SIZE / 2} cy={SIZE / 2} r={REACH / 2} fill="none" stroke={colour.raised} strokeWidth={1} />
        <Line x1={SIZE / 2} y1={SIZE / 2} x2={px} y2={py} stroke={colour.quiet} strokeWidth={1.5} />
        <Circle cx={px} cy={py} r={9} fill={hexOf(0.7, 0.15 * amount, hue)} stroke={colour.text} strokeWidth={2} />
      </Svg>
    </View>
  );
}

const styles = StyleSheet.create({ wheel: { width: SIZE, height: SIZE } });
