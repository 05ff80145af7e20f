import { useEffect, useState } from 'react';
import { StyleSheet, Text, View, type LayoutChangeEvent } from 'react-native';
import { colour, radius, type, web } from '../theme/tokens';
import { firstWords } from './first';
import { followNames, type Named } from './names';

const GAP_PX = 6;
/** What is kept free at the edges of the page. */
const EDGE_PX = 6;

/** Names of icons, over everything: stands once for the whole page. Screen readers read them where they are. */
export function Names() {
  const [named, setNamed] = useState<Named>();
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => followNames(document, setNamed, firstWords), []);
  if (!named) return null;
  const { box, name, key } = named;
  const measured = ({ nativeEvent: { layout } }: LayoutChangeEvent): void => setSize({ width: layout.width, height: layout.height });
  const most = window.innerWidth - size.width - EDGE_PX;
  const left = Math.max(EDGE_PX, Math.min(most, box.left + box.width / 2 - size.width / 2));
  // Above it, where a finger does not cover it; below only where there is no room.
  const above = box.top - size.height - GAP_PX;
  const top = above >= EDGE_PX ? above : box.top + box.height + GAP_PX;
  return (
    <View
      aria-hidden
      {...{ dataSet: { seen: 'name' } }}
      pointerEvents="none"
      onLayout={measured}
      style={[styles.tag, web({ position: 'fixed', left, top }), size.width === 0 && styles.unmeasured]}
    >
      <Text style={styles.name}>{name}</Text>
      {key !== undefined && <Text style={styles.key}>{key}</Text>}
    </View>
  );
}

const styles = StyleSheet.create({
  tag: {
    zIndex: 100,
    maxWidth: 260,
    flexDirection: 'row',
    gap: 8,
    alignItems: 'center',
    paddingVertical: 4,
    paddingHorizontal: 9,
    borderRadius: radius.s,
    backgroundColor: colour.well,
    borderWidth: 1,
    borderColor: colour.groove,
  },
  unmeasured: { opacity: 0 },
  name: { ...type.small, color: colour.text, flexShrink: 1 },
  key: { ...type.figure, fontSize: 12, color: colour.signalText },
});
