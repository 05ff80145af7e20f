import { Pressable, StyleSheet, Text, View } from 'react-native';
import { colour, radius, touch, type } from '../theme/tokens';
import { saysFirst } from './first';
import { say } from '../words';

/** An on/off switch: a lever in a slot with a lamp. */
export function Switch({ label, on, ofLayer = false, onToggle }: { label: string; on: boolean; ofLayer?: boolean; onToggle: () => void }) {
  return (
    <Pressable onPress={onToggle} {...(ofLayer && saysFirst('switch'))} role="switch" aria-checked={on} aria-label={label} style={styles.area}>
      <View style={styles.slot}>
        <View style={[styles.lever, on ? styles.up : styles.down]}>
          <View style={[styles.lamp, on && styles.lit]} />
        </View>
      </View>
    </Pressable>
  );
}

/** Hears a layer alone. */
export function SoloButton({ name, on, onToggle }: { name: string; on: boolean; onToggle: () => void }) {
  return (
    <Pressable onPress={onToggle} role="button" aria-pressed={on} aria-label={say.controls.soloName(name)} style={styles.area}>
      <View style={[styles.solo, on && styles.soloOn]}>
        <Text style={[type.small, styles.soloText, on && { color: colour.onSignal }]}>{say.controls.solo}</Text>
      </View>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  area: { minWidth: touch, minHeight: touch, alignItems: 'center', justifyContent: 'center' },
  slot: { width: 18, height: 34, borderRadius: radius.s, backgroundColor: colour.groove, borderWidth: 1, borderColor: colour.edge, padding: 2 },
  lever: { height: 16, borderRadius: 2, backgroundColor: colour.cap, alignItems: 'center', justifyContent: 'center' },
  up: { marginTop: 0 },
  down: { marginTop: 12, backgroundColor: '#8c8c8c' },
  lamp: { width: 6, height: 6, borderRadius: 3, backgroundColor: '#5d5d5d' },
  lit: { backgroundColor: colour.signal },
  solo: {
    minWidth: 36,
    minHeight: 26,
    borderRadius: 13,
    paddingHorizontal: 3,
    borderWidth: 1,
    borderColor: colour.edge,
    alignItems: 'center',
    justifyContent: 'center',
  },
  soloOn: { backgroundColor: colour.signal, borderColor: colour.signal },
  soloText: { fontSize: 13 },
});
