import type { ReactNode } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { router } from 'expo-router';
import { colour, touch, type } from '../theme/tokens';
import { say } from '../words';

type Place = 'shelf' | 'looks' | 'exports';
const PLACES: readonly { id: Place; label: string; path: '/' | '/looks' | '/exports' }[] = [
  { id: 'shelf', label: say.controls.shelf, path: '/' },
  { id: 'looks', label: say.controls.looks, path: '/looks' },
  { id: 'exports', label: say.controls.exports, path: '/exports' },
];

/** The places one goes to, at the foot of the screen, with what is to be done here. The bench is reached through a photo. */
export function Places({ here, children }: { here: Place; children?: ReactNode }) {
  return (
    <View role="navigation" style={styles.bar}>
      {PLACES.map(({ id, label, path }) => (
        <Pressable
          key={id}
          role="link"
          aria-label={label}
          aria-current={id === here ? 'page' : undefined}
          onPress={() => id !== here && router.replace(path)}
          style={[styles.place, id === here && styles.here]}
        >
          <Text style={[type.label, id !== here && { color: colour.quiet }]}>{label}</Text>
        </Pressable>
      ))}
      <View style={styles.grow} />
      {children}
    </View>
  );
}

const styles = StyleSheet.create({
  bar: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 4,
    paddingHorizontal: 10,
    minHeight: 64,
    backgroundColor: colour.desk,
    borderTopWidth: 1,
    borderTopColor: colour.groove,
  },
  place: {
    minHeight: touch,
    minWidth: 64,
    alignItems: 'center',
    justifyContent: 'center',
    paddingHorizontal: 10,
    borderTopWidth: 3,
    borderTopColor: 'transparent',
  },
  here: { borderTopColor: colour.signal },
  grow: { flex: 1 },
});
