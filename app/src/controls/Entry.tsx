import { Pressable, StyleSheet, Text, TextInput, View } from 'react-native';
import Check from 'lucide-react-native/icons/check';
import { colour, radius, touch, type, web } from '../theme/tokens';

/** A field with its label as what stands in it while it is empty. */
export function Entry({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <TextInput
      value={value}
      onChangeText={onChange}
      placeholder={label}
      placeholderTextColor={colour.quiet}
      aria-label={label}
      style={[type.label, styles.entry]}
    />
  );
}

/** One of several that may be chosen together. */
export function Tick({ label, on, indent = 0, onToggle }: { label: string; on: boolean; indent?: number; onToggle: () => void }) {
  return (
    <Pressable role="checkbox" aria-checked={on} aria-label={label} onPress={onToggle} style={[styles.tick, { paddingLeft: 10 + 16 * indent }]}>
      <View style={[styles.box, on && styles.boxOn]}>{on && <Check size={15} strokeWidth={2.4} color={colour.onSignal} />}</View>
      <Text style={type.label} numberOfLines={1}>
        {label}
      </Text>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  tick: { minHeight: touch, flexDirection: 'row', alignItems: 'center', gap: 10, paddingRight: 10 },
  box: { width: 22, height: 22, borderRadius: radius.s, borderWidth: 1, borderColor: colour.edge, alignItems: 'center', justifyContent: 'center' },
  boxOn: { backgroundColor: colour.signal, borderColor: colour.signal },
  entry: { height: touch, paddingHorizontal: 12, borderRadius: radius.m, backgroundColor: colour.well, ...web({ outlineStyle: 'none' }) },
});
