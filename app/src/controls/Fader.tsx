import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { figure, fromFader, stepped, toFader, type Family, type NumberParam, unit } from '@bexlen/core';
import { colour, familyMarks, radius, touch, web } from '../theme/tokens';
import { hold, letGo, useHeld } from '../state/held';
import { usePointer, type Drag } from './usePointer';

export interface FaderProps {
  /** Names the control while it is held. */
  readonly id: string;
  readonly label: string;
  readonly param: NumberParam;
  readonly value: number;
  readonly edge: number;
  readonly family: Family | 'group';
  readonly upright?: boolean;
  /** While it is dragged: to be shown, not kept. */
  readonly onShow: (value: number) => void;
  /** Let go, typed or stepped: to be kept. */
  readonly onKeep: (value: number) => void;
}

const CAP = { long: 34, short: 20 };
/** Drawn away from the fader by so much, a drag goes half as fast. */
const FINE_PX = 60;
const DOUBLE_TAP_MS = 320;
const STEPS: Record<string, number> = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 };

/** A fader of the desk. Drags are relative: the cap never jumps to the finger. Double tap goes back to the default. */
export function Fader({ id, label, param, value, edge, family, upright = false, onShow, onKeep }: FaderProps) {
  const held = useHeld((state) => state.id === id);
  const drag = useRef({ place: 0, at: 0, value });
  const lastTap = useRef(0);
  const [length, setLength] = useState(0);
  const place = toFader(param, value);

  const follow = ({ dx, dy, width, height }: Drag): number => {
    const [along, away] = upright ? [-dy, Math.abs(dx)] : [dx, Math.abs(dy)];
    const track = (upright ? height : width) - CAP.short;
    const fine = 1 / (1 + Math.max(0, away - 24) / FINE_PX);
    drag.current.place = unit(drag.current.place + ((along - drag.current.at) / Math.max(1, track)) * fine);
    drag.current.at = along;
    return fromFader(param, drag.current.place);
  };
  /** Where the figure stands: above the finger, within the page. */
  const above = ({ event, y }: Drag): { x: number; y: number } => ({
    x: event.clientX,
    y: upright ? event.clientY - 40 : event.clientY - y - 6,
  });
  const ref = usePointer({
    down: () => {
      drag.current = { place, at: 0, value };
    },
    move: (now) => {
      drag.current.value = follow(now);
      hold(id, { text: figure(param, drag.current.value, edge), ...above(now) });
      onShow(drag.current.value);
    },
    up: ({ event }, moved) => {
      letGo();
      if (moved) return onKeep(drag.current.value);
      if (event.timeStamp - lastTap.current < DOUBLE_TAP_MS) onKeep(param.at);
      lastTap.current = event.timeStamp;
    },
    cancel: () => {
      letGo();
      onShow(value);
    },
    key: (event) => {
      const steps = STEPS[event.key];
      const to = event.key === 'Home' ? param.min : event.key === 'End' ? param.max : event.key === 'Backspace' ? param.at : undefined;
      if (steps === undefined && to === undefined) return;
      event.preventDefault();
      onKeep(to ?? stepped(param, value, (steps ?? 0) * (event.shiftKey ? 10 : 1)));
    },
  });

  const room = Math.max(0, length - CAP.short);
  const along = (at: number): number => at * room;
  const { hue, notches } = familyMarks[family];
  const text = figure(param, value, edge);
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={label}
      aria-valuemin={param.min}
      aria-valuemax={param.max}
      aria-valuenow={value}
      aria-valuetext={text}
      tabIndex={0}
      style={[upright ? styles.upright : styles.level, web({ touchAction: 'none', cursor: 'grab', userSelect: 'none' })]}
      onLayout={({ nativeEvent: { layout } }) => setLength(upright ? layout.height : layout.width)}
    >
      <View style={upright ? styles.grooveUpright : styles.grooveLevel} />
      <View
        style={[
          styles.notch,
          upright
            ? { bottom: along(toFader(param, param.at)) + CAP.short / 2, width: 18, height: 1 }
            : { left: along(toFader(param, param.at)) + CAP.short / 2, height: 18, width: 1 },
        ]}
      />
      <View
        style={[
          styles.cap,
          held && styles.capHeld,
          upright ? { bottom: along(place), width: CAP.long, height: CAP.short } : { left: along(place), width: CAP.short, height: CAP.long },
        ]}
      >
        <View style={[{ backgroundColor: held ? colour.signal : hue }, upright ? { height: 4, width: '100%' } : { width: 4, height: '100%' }]} />
        <View
          style={[
            styles.notches,
            upright ? { right: 2, top: 2, bottom: 2, flexDirection: 'column' } : { bottom: 2, left: 2, right: 2, flexDirection: 'row' },
          ]}
        >
          {notches.map((size, i) => (
            <View key={i} style={[styles.cut, upright ? { height: 1, width: 6 * size } : { width: 1, height: 6 * size }]} />
          ))}
        </View>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  level: { height: touch, flexGrow: 1, justifyContent: 'center', minWidth: 80 },
  upright: { width: touch, flexGrow: 1, alignItems: 'center', minHeight: 80 },
  grooveLevel: {
    position: 'absolute',
    left: CAP.short / 2,
    right: CAP.short / 2,
    height: 5,
    borderRadius: 3,
    backgroundColor: colour.groove,
    borderBottomWidth: 1,
    borderBottomColor: colour.edge,
  },
  grooveUpright: {
    position: 'absolute',
    top: CAP.short / 2,
    bottom: CAP.short / 2,
    width: 5,
    borderRadius: 3,
    backgroundColor: colour.groove,
    borderRightWidth: 1,
    borderRightColor: colour.edge,
  },
  notch: { position: 'absolute', backgroundColor: colour.quiet, opacity: 0.8 },
  cap: {
    position: 'absolute',
    backgroundColor: colour.cap,
    borderRadius: radius.s,
    alignItems: 'center',
    justifyContent: 'center',
    ...web({ boxShadow: '0 1px 3px rgba(0,0,0,0.6)' }),
  },
  capHeld: { backgroundColor: '#ffffff' },
  notches: { position: 'absolute', gap: 3, justifyContent: 'center', alignItems: 'flex-end' },
  cut: { backgroundColor: '#3a3a3a' },
});
