import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Circle, Line, Path } from 'react-native-svg';
import { curveFunction, MAX_NODES, NODE_GAP, type Curve, type Node, unit } from '@bexlen/core';
import { colour, radius, web } from '../theme/tokens';
import { hold, letGo } from '../state/held';
import { histogramPath } from './histogramPath';
import { usePointer } from './usePointer';
import { say } from '../words';

interface Props {
  readonly id: string;
  readonly label: string;
  readonly curve: Curve;
  /** What a node says of itself; of a gate, how much it lets through. */
  readonly says?: (node: Node) => string;
  /** For work on the curve itself. */
  readonly tall?: boolean;
  /** 256 counts, drawn behind the curve. */
  readonly tones?: Uint32Array | undefined;
  readonly onShow: (curve: Curve) => void;
  readonly onKeep: (curve: Curve) => void;
}

const PAD = 12;
/** A press this near to a node takes it. */
const REACH_PX = 26;
/** A node drawn this far out of the graph is thrown away. */
const THROW_PX = 46;
const KEY_STEP = 0.02;

/** A curve over the tones: drag a node, press elsewhere to add one, draw one far out to remove it. */
export function Graph({ id, label, curve, says = letsThrough, tall = false, tones, onShow, onKeep }: Props) {
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [chosen, setChosen] = useState(0);
  const work = useRef({ nodes: curve.nodes, index: 0, next: curve });
  const w = Math.max(1, size.width - 2 * PAD);
  const h = Math.max(1, size.height - 2 * PAD);
  const toX = (x: number): number => PAD + x * w;
  const toY = (y: number): number => PAD + (1 - y) * h;

  const ref = usePointer({
    down: ({ x, y }) => {
      const far = curve.nodes.map(([nx, ny]) => Math.hypot(toX(nx) - x, toY(ny) - y));
      const nearest = far.indexOf(Math.min(...far));
      const taken = (far[nearest] as number) <= REACH_PX;
      const nodes = taken ? curve.nodes : added(curve.nodes, unit((x - PAD) / w), unit(1 - (y - PAD) / h));
      const index = taken ? nearest : nodes.findIndex((node) => !curve.nodes.includes(node));
      work.current = { nodes, index: Math.max(0, index), next: { ...curve, nodes } };
      setChosen(Math.max(0, index));
    },
    move: ({ x, y, event }) => {
      const out = y < -THROW_PX || y > size.height + THROW_PX;
      const { nodes, index } = work.current;
      const kept = out ? without(nodes, index) : moved(nodes, index, (x - PAD) / w, 1 - (y - PAD) / h);
      work.current.next = { ...curve, nodes: kept };
      const node = out ? undefined : kept[index];
      const text = node ? says(node) : say.controls.removed;
      hold(id, { text, x: event.clientX, y: event.clientY - y - 6 });
      onShow(work.current.next);
    },
    up: (_drag, didMove) => {
      letGo();
      if (didMove || work.current.nodes !== curve.nodes) onKeep(work.current.next);
    },
    cancel: () => {
      letGo();
      onShow(curve);
    },
    key: (event) => {
      const next = byKey(event, curve.nodes, Math.min(chosen, curve.nodes.length - 1));
      if (!next) return;
      event.preventDefault();
      setChosen(next.index);
      if (next.nodes !== curve.nodes) onKeep({ ...curve, nodes: next.nodes });
    },
  });

  const f = curveFunction(curve);
  const line = Array.from({ length: 65 }, (_, i) => `${i ? 'L' : 'M'}${toX(i / 64).toFixed(1)} ${toY(f(i / 64)).toFixed(1)}`).join('');
  const now = curve.nodes[Math.min(chosen, curve.nodes.length - 1)] as Node;
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={say.controls.labelNodeMinOfCountArrow(label, Math.min(chosen, curve.nodes.length - 1) + 1, curve.nodes.length)}
      aria-valuenow={Math.round(now[1] * 100)}
      aria-valuetext={says(now)}
      tabIndex={0}
      style={[styles.graph, tall && styles.tall, web({ touchAction: 'none', cursor: 'crosshair' })]}
      onLayout={({ nativeEvent: { layout } }) => setSize({ width: layout.width, height: layout.height })}
    >
      {size.width > 0 && (
        <Svg width={size.width} height={size.height}>
          {tones && <Path d={histogramPath(tones, toX, toY)} fill={colour.edge} />}
          {tall && <Line x1={toX(0)} y1={toY(0)} x2={toX(1)} y2={toY(1)} stroke={colour.raised} strokeWidth={1} />}
          {[0.25, 0.5, 0.75].map((t) => (
            <Line key={t} x1={toX(t)} x2={toX(t)} y1={PAD} y2={PAD + h} stroke={colour.raised} strokeWidth={1} />
          ))}
          <Path d={line} stroke={colour.tape} strokeWidth={2} fill="none" />
          {curve.nodes.map(([x, y], i) => (
            <Circle
              key={i}
              cx={toX(x)}
              cy={toY(y)}
              r={i === chosen ? 7 : 6}
              fill={i === chosen ? colour.signal : colour.tape}
              stroke={colour.well}
              strokeWidth={1.5}
            />
          ))}
        </Svg>
      )}
    </View>
  );
}

const letsThrough = ([x, y]: Node): string => say.controls.yAtX(Math.round(y * 100), Math.round(x * 255));

function added(nodes: readonly Node[], x: number, y: number): Node[] {
  const free = nodes.length < MAX_NODES && nodes.every(([nx]) => Math.abs(nx - x) > NODE_GAP);
  return free ? [...nodes, [x, y] as Node].sort(([a], [b]) => a - b) : [...nodes];
}

/** A node at another place, held between its neighbours. */
function moved(nodes: readonly Node[], index: number, x: number, y: number): Node[] {
  const low = (nodes[index - 1]?.[0] ?? -NODE_GAP) + NODE_GAP;
  const high = (nodes[index + 1]?.[0] ?? 1 + NODE_GAP) - NODE_GAP;
  return nodes.map((node, i) => (i === index ? [Math.min(high, Math.max(low, unit(x))), unit(y)] : node));
}

const without = (nodes: readonly Node[], index: number): Node[] => (nodes.length > 2 ? nodes.filter((_, i) => i !== index) : [...nodes]);

function byKey(event: KeyboardEvent, nodes: Node[], index: number): { nodes: Node[]; index: number } | undefined {
  const [x, y] = nodes[index] as Node;
  const step = event.shiftKey ? KEY_STEP * 5 : KEY_STEP;
  const ways: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] };
  const way = ways[event.key];
  if (way) return { nodes: moved(nodes, index, x + way[0], y + way[1]), index };
  if (event.key === 'n') return { nodes, index: (index + 1) % nodes.length };
  if (event.key === 'Delete' || event.key === 'Backspace') return { nodes: without(nodes, index), index: Math.max(0, index - 1) };
  if (event.key !== '+') return undefined;
  const [nx, ny] = nodes[index + 1] ?? (nodes[index - 1] as Node);
  return { nodes: added(nodes, (x + nx) / 2, (y + ny) / 2), index: nodes[index + 1] ? index + 1 : index };
}

const styles = StyleSheet.create({
  graph: { height: 118, backgroundColor: colour.well, borderRadius: radius.m, borderWidth: 1, borderColor: colour.groove, overflow: 'hidden' },
  tall: { height: 210, marginHorizontal: 12 },
});
