import { useMemo } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { clipped, zoned, zoneLevel, zoneNames } from '@bexlen/core';
import { Picture } from '../controls/Picture';
import { colour, radius, type } from '../theme/tokens';
import { say } from '../words';

/** Side of the squares of the pattern, in pixels of the picture. */
const PATTERN = 4;

/** Marks where the ends of the tones are clipped: cream squares on black, ink stripes on white; and by dots what a file in sRGB could not hold. Lies over a picture. */
export function ClipMarks({ image }: { image: ImageData }) {
  const marks = useMemo(() => {
    const which = clipped(image);
    const out = new ImageData(image.width, image.height);
    for (let i = 0; i < which.length; i++) {
      if (which[i] === 0) continue;
      const [x, y] = [i % image.width, Math.floor(i / image.width)];
      const squares = (Math.floor(x / PATTERN) + Math.floor(y / PATTERN)) % 2 === 0;
      const stripes = (x + y) % (3 * PATTERN) < PATTERN;
      if (which[i] === 1 && squares) out.data.set(CREAM, 4 * i);
      if (which[i] === 2 && stripes) out.data.set(INK, 4 * i);
      if (which[i] === 3 && x % (2 * PATTERN) < DOT && y % (2 * PATTERN) < DOT) out.data.set(SIGNAL, 4 * i);
    }
    return out;
  }, [image]);
  return (
    <View style={StyleSheet.absoluteFill} pointerEvents="none">
      <Picture image={marks} />
    </View>
  );
}

const CREAM = [236, 224, 192, 255] as const;
const INK = [43, 38, 26, 255] as const;
const SIGNAL = [240, 138, 82, 255] as const;
/** Side of the dots, in pixels of the picture. */
const DOT = 3;

/** The picture in eleven flat greys, a stop apart. Lies over a picture. */
export function Zones({ image }: { image: ImageData }) {
  const flat = useMemo(() => {
    const out = new ImageData(image.width, image.height);
    out.data.set(zoned(image));
    return out;
  }, [image]);
  return (
    <View style={StyleSheet.absoluteFill} pointerEvents="none">
      <Picture image={flat} />
    </View>
  );
}

/** What the greys of the zone view stand for. */
export function ZoneScale() {
  return (
    <View style={styles.scale} pointerEvents="none" role="img" aria-label={say.viewer.zonesToXFromBlackTo}>
      {zoneNames.map((name, zone) => {
        const level = zoneLevel(zone);
        return (
          <View key={name} style={[styles.zone, { backgroundColor: `rgb(${level},${level},${level})` }]}>
            <Text style={[type.figure, styles.name, { color: level > 120 ? colour.ink : colour.text }]}>{name}</Text>
          </View>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  scale: { position: 'absolute', left: 10, right: 10, bottom: 10, height: 26, flexDirection: 'row', borderRadius: radius.s, overflow: 'hidden' },
  zone: { flex: 1, alignItems: 'center', justifyContent: 'center' },
  name: { fontSize: 11 },
});
