import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Path, Rect } from 'react-native-svg';
import { levelPlaces, levelsPlaced, type Five } from '@bexlen/core';
import { colour, radius, web } from '../theme/tokens';
import { hold, letGo } from '../state/held';
import { histogramPath } from '../controls/histogramPath';
import { usePointer } from '../controls/usePointer';
import { say, inSentence, decimal } from '../words';

interface Props {
  readonly id: string;
  readonly label: string;
  readonly value: Five;
  readonly tones: Uint32Array | undefined;
  readonly onShow: (value: Five) => void;
  readonly onKeep: (value: Five) => void;
}

const PAD = 14;
const GRAPH = 96;
const BAR = 14;
/** Between the tones that come in and the bar of what they become. */
const WAY = 40;
const HEIGHT = GRAPH + WAY + BAR + 14;
const CAP = { width: 16, height: 26 };
const NAMES = [say.boards.black, say.boards.midtone, say.boards.white, say.boards.blackBecomes, say.boards.whiteBecomes] as const;

const says = (value: Five, handle: number): string =>
  handle === 1 ? say.boards.midtoneWhat(decimal(value[1], 2)) : `${NAMES[handle]} ${Math.round((value[handle] as number) * 255)}`;

/** Levels as the way of the light: from where black, middle and white are taken to what they become. */
export function LevelsBoard({ id, label, value, tones, onShow, onKeep }: Props) {
  const [width, setWidth] = useState(0);
  const [chosen, setChosen] = useState(1);
  const work = useRef<{ handle: number; next: Five; grip: number }>({ handle: 0, next: value, grip: 0 });
  const w = width - 2 * PAD;
  const places = levelPlaces(value);
  const ref = usePointer({
    down: ({ x, y }) => {
      const at = (x - PAD) / w;
      const candidates = y > GRAPH + WAY / 2 ? [3, 4] : [0, 1, 2];
      const handle = candidates.reduce((best, each) =>
        Math.abs((places[each] as number) - at) < Math.abs((places[best] as number) - at) ? each : best,
      );
      setChosen(handle);
      work.current = { handle, next: value, grip: (places[handle] as number) - at };
    },
    move: ({ x, y, event }) => {
      const { handle, grip } = work.current;
      work.current.next = levelsPlaced(value, handle, (x - PAD) / w + grip);
      hold(id, { text: says(work.current.next, handle), x: event.clientX, y: event.clientY - y - 6 });
      onShow(work.current.next);
    },
    up: (_drag, moved) => {
      letGo();
      if (moved) onKeep(work.current.next);
    },
    cancel: () => {
      letGo();
      onShow(value);
    },
    key: (event) => {
      if (event.key === 'n') return setChosen((chosen + 1) % 5);
      const step = ({ ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 } as Record<string, number>)[event.key];
      if (step === undefined) return;
      event.preventDefault();
      onKeep(levelsPlaced(value, chosen, (places[chosen] as number) + (step * (event.shiftKey ? 10 : 1)) / 255));
    },
  });
  const toX = (v: number): number => PAD + v * w;
  /** A cap as the faders have it, with the tone it stands for as its stripe. */
  const cap = (i: number, middle: number, stripe: string) => {
    const [x, y] = [toX(places[i] as number) - CAP.width / 2, middle - CAP.height / 2];
    return [
      <Rect
        key={`cap ${i}`}
        x={x}
        y={y}
        width={CAP.width}
        height={CAP.height}
        rx={3}
        fill={colour.cap}
        stroke={i === chosen ? colour.signal : colour.groove}
        strokeWidth={2}
      />,
      <Rect key={`stripe ${i}`} x={x + 5} y={y + 2} width={CAP.width - 10} height={CAP.height - 4} fill={stripe} />,
    ];
  };
  const bar = GRAPH + WAY;
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={say.boards.labelArrowKeysMoveWhatN(label, inSentence(NAMES[chosen] ?? ''))}
      aria-valuenow={Math.round((places[chosen] as number) * 255)}
      aria-valuetext={says(value, chosen)}
      tabIndex={0}
      onLayout={({ nativeEvent: { layout } }) => setWidth(layout.width)}
      style={[styles.board, web({ touchAction: 'none', cursor: 'ew-resize' })]}
    >
      {width > 0 && (
        <Svg width={width} height={HEIGHT}>
          <Rect x={PAD} y={4} width={w} height={GRAPH - 4} fill={colour.groove} />
          {tones && <Path d={histogramPath(tones, toX, (y) => GRAPH - y * (GRAPH - 10))} fill={colour.edge} />}
          <Rect x={PAD} y={4} width={Math.max(0, toX(value[0]) - PAD)} height={GRAPH - 4} fill="#000000" opacity={0.55} />
          <Rect x={toX(value[2])} y={4} width={Math.max(0, PAD + w - toX(value[2]))} height={GRAPH - 4} fill="#ffffff" opacity={0.22} />
          <Rect x={toX(places[1] as number) - 0.5} y={4} width={1} height={GRAPH - 4} fill={colour.quiet} />
          <Path
            d={`M${toX(value[0])} ${GRAPH}L${toX(value[2])} ${GRAPH}L${toX(value[4])} ${bar}L${toX(value[3])} ${bar}Z`}
            fill={colour.tape}
            opacity={0.14}
          />
          <Path
            d={`M${toX(value[0])} ${GRAPH}L${toX(value[3])} ${bar}M${toX(value[2])} ${GRAPH}L${toX(value[4])} ${bar}`}
            stroke={colour.tape}
            strokeWidth={1}
            fill="none"
          />
          {cap(0, GRAPH, '#202020')}
          {cap(2, GRAPH, '#ffffff')}
          {cap(1, GRAPH, '#8a8a8a')}
          {Array.from({ length: 32 }, (_, i) => (
            <Rect key={i} x={PAD + (i * w) / 32} y={bar} width={w / 32 + 0.5} height={BAR} fill={grey(i / 31)} />
          ))}
          {cap(3, bar + BAR / 2, '#202020')}
          {cap(4, bar + BAR / 2, '#ffffff')}
        </Svg>
      )}
    </View>
  );
}

const grey = (v: number): string => {
  const level = Math.round(v * 255);
  return `rgb(${level},${level},${level})`;
};

const styles = StyleSheet.create({
  board: { height: HEIGHT, marginHorizontal: 12, backgroundColor: colour.well, borderRadius: radius.m },
});
