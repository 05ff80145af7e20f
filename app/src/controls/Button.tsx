import type { ComponentType, ReactNode } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { colour, radius, touch, type } from '../theme/tokens';

type Icon = ComponentType<{ size?: number; color?: string; strokeWidth?: number }>;

interface IconProps {
  readonly icon: Icon;
  readonly label: string;
  readonly onPress: () => void;
  readonly off?: boolean;
  readonly pressed?: boolean;
  /** The key that does the same, as it is written on keyboards. */
  readonly shortcut?: string;
  /** A short word to be seen under it. */
  readonly word?: string | undefined;
}

export function IconButton({ icon: Icon, label, onPress, off = false, pressed, shortcut, word }: IconProps) {
  return (
    <Pressable
      onPress={onPress}
      disabled={off}
      role="button"
      aria-label={label}
      aria-pressed={pressed}
      {...(shortcut !== undefined && { 'aria-keyshortcuts': shortcut })}
      {...(word !== undefined && { dataSet: { icon: 'worded' } })}
      style={({ pressed: down }) => [styles.icon, (down || pressed) && styles.down, off && styles.off]}
    >
      <Icon size={21} color={pressed ? colour.signalText : colour.text} strokeWidth={1.5} />
      {word !== undefined && (
        <Text numberOfLines={1} aria-hidden style={[styles.word, pressed && { color: colour.signalText }]}>
          {word}
        </Text>
      )}
    </Pressable>
  );
}

interface Props {
  readonly label: string;
  readonly onPress: () => void;
  readonly icon?: Icon;
  readonly strong?: boolean;
  readonly off?: boolean;
  /** Of one that switches something on and off: whether that is on. */
  readonly pressed?: boolean;
  /** It keeps its width in a row that scrolls. */
  readonly fixed?: boolean;
  /** For screen readers, where it says more than the label. */
  readonly says?: string;
  readonly children?: ReactNode;
}

export function Button({ label, onPress, icon: Icon, strong = false, off = false, pressed, fixed = false, says = label }: Props) {
  const ink = strong ? colour.onSignal : colour.text;
  return (
    <Pressable
      onPress={onPress}
      disabled={off}
      role="button"
      aria-label={says}
      {...(pressed !== undefined && { 'aria-pressed': pressed })}
      style={({ pressed: down }) => [
        styles.button,
        pressed && styles.on,
        strong && styles.strong,
        fixed && styles.fixed,
        down && styles.pressed,
        off && styles.off,
      ]}
    >
      {Icon && <Icon size={19} color={ink} strokeWidth={1.6} />}
      <Text style={[type.label, styles.label, { color: ink }]}>{label}</Text>
    </Pressable>
  );
}

/** One of a few that exclude each other. */
export function Choice<T extends string>({
  label,
  options,
  value,
  onChoose,
}: {
  label: string;
  options: readonly { id: T; label: string }[];
  value: T;
  onChoose: (id: T) => void;
}) {
  return (
    <View role="radiogroup" aria-label={label} style={styles.choice}>
      {options.map((option) => (
        <Pressable
          key={option.id}
          role="radio"
          aria-checked={option.id === value}
          aria-label={option.label}
          onPress={() => onChoose(option.id)}
          style={[styles.option, option.id === value && styles.chosen]}
        >
          <Text style={[type.small, option.id === value && { color: colour.text }]}>{option.label}</Text>
        </Pressable>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  icon: { width: touch, minWidth: 40, flexShrink: 1, height: touch, alignItems: 'center', justifyContent: 'center', borderRadius: radius.m },
  word: { ...type.small, fontSize: 11, lineHeight: 13, maxWidth: '100%' },
  down: { backgroundColor: colour.raised },
  off: { opacity: 0.35 },
  button: {
    minHeight: touch,
    paddingHorizontal: 16,
    borderRadius: radius.m,
    backgroundColor: colour.raised,
    flexDirection: 'row',
    gap: 8,
    alignItems: 'center',
    justifyContent: 'center',
    flexShrink: 1,
  },
  fixed: { flexShrink: 0 },
  label: { flexShrink: 1 },
  strong: { backgroundColor: colour.signal },
  on: { borderBottomWidth: 2, borderBottomColor: colour.signal },
  pressed: { opacity: 0.8 },
  choice: { flexDirection: 'row', backgroundColor: colour.well, borderRadius: radius.m, padding: 2 },
  option: {
    minHeight: touch - 8,
    minWidth: touch,
    flexGrow: 1,
    paddingHorizontal: 10,
    alignItems: 'center',
    justifyContent: 'center',
    borderRadius: radius.s,
  },
  chosen: { backgroundColor: colour.raised, borderBottomWidth: 2, borderBottomColor: colour.signal },
});
