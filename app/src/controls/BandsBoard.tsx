import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Rect } from 'react-native-svg';
import { hexOf } from '@bexlen/core';
import { colour, radius, web } from '../theme/tokens';
import { hold, letGo } from './held';
import { usePointer } from './usePointer';

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
  readonly onShow: (index: number, value: number) => void;
  readonly onKeep: (index: number, value: number) => void;
}

const HEIGHT = 132;
const REACH = HEIGHT / 2 - 10;

const says = ({ label }: Band, value: number): string =>
  `${label} ${value > 0 ? '+' : value < 0 ? '\u2212' : ''}${Math.round(Math.abs(value) * 100)} %`;

/** Bands of hue side by side: press one and drag up or down. */
export function BandsBoard({ id, label, bands, onShow, onKeep }: Props) {
  const [width, setWidth] = useState(0);
  const [chosen, setChosen] = useState(0);
  const work = useRef({ index: 0, from: 0, to: 0 });
  const each = width / bands.length;
  const now = bands[Math.min(chosen, bands.length - 1)] as Band;
  const ref = usePointer({
    down: ({ x, width: w }) => {
      const index = Math.min(bands.length - 1, Math.max(0, Math.floor((x / w) * bands.length)));
      const from = bands[index]?.value ?? 0;
      setChosen(index);
      work.current = { index, from, to: from };
    },
    move: ({ dy, y, event }) => {
      const { index, from } = work.current;
      const to = Math.round(100 * Math.min(1, Math.max(-1, from - dy / REACH))) / 100;
      work.current.to = to;
      hold(id, { text: says(bands[index] as Band, to), x: event.clientX, y: event.clientY - y - 6 });
      onShow(index, to);
    },
    up: (_drag, moved) => {
      letGo();
      if (moved) onKeep(work.current.index, work.current.to);
    },
    cancel: () => {
      letGo();
      onShow(work.current.index, work.current.from);
    },
    key: (event) => {
      if (event.key === 'ArrowLeft') return setChosen(Math.max(0, chosen - 1));
      if (event.key === 'ArrowRight') return setChosen(Math.min(bands.length - 1, chosen + 1));
      const step = event.key === 'ArrowUp' ? 0.05 : event.key === 'ArrowDown' ? -0.05 : event.key === 'Backspace' ? -now.value : 0;
      if (step === 0) return;
      event.preventDefault();
      onKeep(chosen, Math.round(100 * Math.min(1, Math.max(-1, now.value + step))) / 100);
    },
  });
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={`${label}. Left and right choose a band, up and down move it`}
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
