import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Picture } from '../controls/Picture';
import { usePointer } from '../controls/usePointer';
import { colour, type, web } from '../theme/tokens';
import { say } from '../words';

const KEYS: Record<string, number> = { ArrowLeft: -0.05, ArrowRight: 0.05 };

interface SplitProps {
  readonly original: ImageData;
  readonly width: number;
  readonly height: number;
  readonly scale: number;
  /** What lies left of the line. */
  readonly name?: string;
}

/** The original left of a line that can be drawn across the photo. Lies over the shown picture, at its size. */
export function Split({ original, width, height, scale, name = say.viewer.original }: SplitProps) {
  const [at, setAt] = useState(0.5);
  const [from, setFrom] = useState(0.5);
  const ref = usePointer({
    down: ({ event }) => {
      event.stopPropagation();
      setFrom(at);
    },
    move: ({ dx }) => setAt(Math.min(0.98, Math.max(0.02, from + dx / (width * scale)))),
    key: (event) => {
      const step = KEYS[event.key];
      if (step !== undefined) setAt(Math.min(0.98, Math.max(0.02, at + step)));
    },
  });
  return (
    <View style={[styles.over, { width, height }]} pointerEvents="box-none">
      <View style={[styles.left, { width: width * at, height }]} pointerEvents="none">
        <View style={{ width, height }}>
          <Picture image={original} />
        </View>
        <Text style={[type.small, styles.tag, web({ transform: `scale(${1 / scale})`, transformOrigin: 'top left' })]}>{name}</Text>
      </View>
      <View
        ref={ref}
        role="slider"
        aria-label={say.viewer.splitLine}
        aria-valuenow={Math.round(at * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
        tabIndex={0}
        style={[
          styles.grip,
          { left: width * at, height },
          web({ touchAction: 'none', cursor: 'ew-resize', transform: `translateX(-50%) scaleX(${1 / scale})` }),
        ]}
      >
        <View style={styles.line} />
        <View style={[styles.knob, web({ transform: `scaleY(${1 / scale})` })]} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  over: { position: 'absolute', left: 0, top: 0 },
  left: { position: 'absolute', left: 0, top: 0, overflow: 'hidden' },
  tag: { position: 'absolute', left: 8, bottom: 8, paddingHorizontal: 8, paddingVertical: 3, backgroundColor: 'rgba(20,20,20,0.8)', borderRadius: 4 },
  grip: { position: 'absolute', top: 0, width: 44, alignItems: 'center', justifyContent: 'center' },
  line: { position: 'absolute', top: 0, bottom: 0, width: 2, backgroundColor: colour.tape },
  knob: { width: 26, height: 34, borderRadius: 4, backgroundColor: colour.cap, borderLeftWidth: 3, borderLeftColor: colour.signal },
});
