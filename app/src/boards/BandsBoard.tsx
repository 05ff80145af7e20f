import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Rect } from 'react-native-svg';
import { hexOf } from '@bexlen/core';
import { colour, radius, web } from '../theme/tokens';
import { hold, letGo } from '../state/held';
import { usePointer } from '../controls/usePointer';
import { say } from '../words';

interface Band {
  readonly label: string;
  /** OKLab hue in degrees. */
  readonly hue: number;
  /** -1..1 */
  readonly value: number;
}

interface Props {
  readonly id: string;
  readonly label: string;
  readonly bands: readonly Band[];
  /** Values by the places of their bands. */
  readonly onShow: (values: ReadonlyMap<number, number>) => void;
  readonly onKeep: (values: ReadonlyMap<number, number>) => void;
}

const HEIGHT = 132;
const REACH = HEIGHT / 2 - 10;

const held = (value: number): number => Math.round(100 * Math.min(1, Math.max(-1, value))) / 100;
const valueAt = (y: number): number => held((HEIGHT / 2 - y) / REACH);
const says = ({ label }: Band, value: number): string =>
  `${label} ${value > 0 ? '+' : value < 0 ? '\u2212' : ''}${Math.round(Math.abs(value) * 100)} %`;

/** Bands of hue side by side: press one and drag up or down; draw on across others, and they follow the finger. */
export function BandsBoard({ id, label, bands, onShow, onKeep }: Props) {
  const [width, setWidth] = useState(0);
  const [chosen, setChosen] = useState(0);
  const work = useRef({ index: 0, from: 0, pressed: 0, drawn: new Map<number, number>() });
  const each = width / bands.length;
  const now = bands[Math.min(chosen, bands.length - 1)] as Band;
  const bandAt = (x: number, w: number): number => Math.min(bands.length - 1, Math.max(0, Math.floor((x / w) * bands.length)));
  const ref = usePointer({
    down: ({ x, y, width: w }) => {
      const index = bandAt(x, w);
      setChosen(index);
      work.current = { index, from: bands[index]?.value ?? 0, pressed: valueAt(y), drawn: new Map() };
    },
    move: ({ dy, x, y, width: w, event }) => {
      const { index, from, pressed, drawn } = work.current;
      const at = bandAt(x, w);
      if (at === index && drawn.size <= 1) drawn.set(index, held(from - dy / REACH));
      else {
        // Drawn across, all of them lie where the finger was; a quick finger leaves out places, and what lies between follows.
        if (drawn.size <= 1) drawn.set(index, pressed);
        const value = valueAt(y);
        const last = [...drawn.keys()].at(-1) ?? index;
        const before = drawn.get(last) ?? pressed;
        const steps = Math.max(1, Math.abs(at - last));
        for (let k = 1; k <= steps; k++) drawn.set(last + Math.sign(at - last) * k, held(before + ((value - before) * k) / steps));
      }
      setChosen(at);
      hold(id, { text: says(bands[at] as Band, drawn.get(at) ?? 0), x: event.clientX, y: event.clientY - y - 6 });
      onShow(drawn);
    },
    up: (_drag, moved) => {
      letGo();
      if (moved) onKeep(work.current.drawn);
    },
    cancel: () => {
      letGo();
      onShow(new Map());
    },
    key: (event) => {
      if (event.key === 'ArrowLeft') return setChosen(Math.max(0, chosen - 1));
      if (event.key === 'ArrowRight') return setChosen(Math.min(bands.length - 1, chosen + 1));
      const step = event.key === 'ArrowUp' ? 0.05 : event.key === 'ArrowDown' ? -0.05 : event.key === 'Backspace' ? -now.value : 0;
      if (step === 0) return;
      event.preventDefault();
      onKeep(new Map([[chosen, held(now.value + step)]]));
    },
  });
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={say.boards.labelLeftAndRightChooseA(label)}
      aria-valuenow={Math.round(now.value * 100)}
      aria-valuetext={says(now, now.value)}
      tabIndex={0}
      onLayout={({ nativeEvent: { layout } }) => setWidth(layout.width)}
      style={[styles.board, web({ touchAction: 'none', cursor: 'ns-resize' })]}
    >
      {width > 0 && (
        <Svg width={width} height={HEIGHT}>
          {bands.map(({ hue, value }, i) => {
            const [x, middle] = [i * each, HEIGHT / 2];
            const y = middle - value * REACH;
            return [
              <Rect key={`ground ${i}`} x={x + 3} y={6} width={each - 6} height={HEIGHT - 12} rx={4} fill={hexOf(0.42, 0.05, hue)} opacity={0.5} />,
              <Rect
                key={`bar ${i}`}
                x={x + 3}
                y={Math.min(y, middle)}
                width={each - 6}
                height={Math.abs(y - middle)}
                fill={hexOf(0.68, 0.13, hue)}
              />,
              <Rect
                key={`cap ${i}`}
                x={x + 3}
                y={y - 4}
                width={each - 6}
                height={8}
                rx={2}
                fill={colour.cap}
                stroke={i === chosen ? colour.signal : colour.groove}
                strokeWidth={1.5}
              />,
            ];
          })}
          <Line x1={0} x2={width} y1={HEIGHT / 2} y2={HEIGHT / 2} stroke={colour.groove} strokeWidth={1} />
        </Svg>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  board: { height: HEIGHT, marginHorizontal: 12, backgroundColor: colour.well, borderRadius: radius.m, overflow: 'hidden' },
});
