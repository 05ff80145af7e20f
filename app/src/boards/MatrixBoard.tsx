import { useRef } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { colour, radius, touch, type, web } from '../theme/tokens';
import { hold, letGo } from '../state/held';
import { usePointer } from '../controls/usePointer';
import { say } from '../words';

interface Props {
  readonly id: string;
  readonly label: string;
  readonly rows: readonly string[];
  readonly columns: readonly string[];
  /** By rows; shares of 1. */
  readonly values: readonly number[];
  readonly least: number;
  readonly most: number;
  readonly onShow: (index: number, value: number) => void;
  readonly onKeep: (index: number, value: number) => void;
}

/** A drag of so many pixels is a change by 1. */
const WHOLE_PX = 160;
const figure = (value: number): string => `${value < 0 ? '\u2212' : ''}${Math.round(Math.abs(value) * 100)} %`;

/** Rows made of columns: press a figure and drag up or down. The sum of each row stands at its end: at 100 % greys keep their tone. */
export function MatrixBoard({ rows, columns, values, ...rest }: Props) {
  return (
    <View style={styles.board} role="group" aria-label={rest.label}>
      <View style={styles.row}>
        <Text style={[type.small, styles.head]} />
        {columns.map((column) => (
          <Text key={column} style={[type.small, styles.column]}>
            {column}
          </Text>
        ))}
        <Text style={[type.small, styles.sum]}>{say.boards.sum}</Text>
      </View>
      {rows.map((row, r) => {
        const own = columns.map((_, c) => values[r * columns.length + c] ?? 0);
        const sum = own.reduce((total, value) => total + value, 0);
        return (
          <View key={row} style={styles.row}>
            <Text style={[type.label, styles.head]}>{row}</Text>
            {own.map((value, c) => (
              <Cell key={columns[c]} {...rest} name={`${row} ${columns[c] ?? ''}`} index={r * columns.length + c} value={value} />
            ))}
            <Text style={[type.figure, styles.sum, Math.abs(sum - 1) > 0.005 && { color: colour.signalText }]}>{figure(sum)}</Text>
          </View>
        );
      })}
    </View>
  );
}

type CellProps = Pick<Props, 'id' | 'least' | 'most' | 'onShow' | 'onKeep'> & {
  readonly name: string;
  readonly index: number;
  readonly value: number;
};

function Cell({ id, name, index, value, least, most, onShow, onKeep }: CellProps) {
  const work = useRef({ from: 0, to: 0 });
  const held = (v: number): number => Math.round(100 * Math.min(most, Math.max(least, v))) / 100;
  const ref = usePointer({
    down: () => {
      work.current = { from: value, to: value };
    },
    move: ({ dy, y, event }) => {
      work.current.to = held(work.current.from - dy / WHOLE_PX);
      hold(id, {
        text: `${name} ${figure(work.current.to)}`,
        x: event.clientX,
        y: event.clientY - y - 6,
      });
      onShow(index, work.current.to);
    },
    up: (_drag, moved) => {
      letGo();
      if (moved) onKeep(index, work.current.to);
    },
    cancel: () => {
      letGo();
      onShow(index, work.current.from);
    },
    key: (event) => {
      const step = event.key === 'ArrowUp' ? 0.05 : event.key === 'ArrowDown' ? -0.05 : 0;
      if (step === 0) return;
      event.preventDefault();
      onKeep(index, held(value + step));
    },
  });
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={name}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuenow={value}
      aria-valuetext={figure(value)}
      tabIndex={0}
      style={[styles.cell, { backgroundColor: value === 0 ? colour.groove : colour.raised }, web({ touchAction: 'none', cursor: 'ns-resize' })]}
    >
      <Text style={type.figure}>{figure(value)}</Text>
    </View>
  );
}

const styles = StyleSheet.create({
  board: { marginHorizontal: 12, padding: 8, gap: 4, backgroundColor: colour.well, borderRadius: radius.m },
  row: { flexDirection: 'row', alignItems: 'center', gap: 4 },
  head: { width: 52 },
  column: { flex: 1, textAlign: 'center' },
  sum: { width: 58, textAlign: 'right' },
  cell: { flex: 1, minHeight: touch, alignItems: 'center', justifyContent: 'center', borderRadius: radius.s },
});
