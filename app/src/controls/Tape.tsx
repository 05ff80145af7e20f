import { useState } from 'react';
import { Pressable, StyleSheet, Text, TextInput, View } from 'react-native';
import { colour, type, web } from '../theme/tokens';
import { saysFirst } from './first';
import { say } from '../words';
import { taken } from './taken';

interface Props {
  readonly name: string;
  readonly open?: boolean;
  readonly dim?: boolean;
  /** What a tap does; without it a tap renames. */
  readonly onPress?: () => void;
  readonly onRename: (name: string) => void;
}

const LONG_NAME = 60;

/** A strip of label tape. Tapping it opens its channel, or renames it where the channel is open already. */
export function Tape({ name, open = false, dim = false, onPress, onRename }: Props) {
  const [typed, setTyped] = useState<string>();
  const end = (keep: boolean): void => {
    const text = typed?.trim() ?? '';
    setTyped(undefined);
    if (keep && text && text !== name) onRename(text);
  };
  if (typed !== undefined)
    return (
      <View style={styles.tape}>
        <TextInput
          ref={taken}
          maxLength={LONG_NAME}
          aria-label={say.controls.nameOfTheLayer}
          value={typed}
          onChangeText={setTyped}
          onBlur={() => end(true)}
          onSubmitEditing={() => end(true)}
          onKeyPress={({ nativeEvent }) => nativeEvent.key === 'Escape' && end(false)}
          style={[type.tape, styles.field]}
        />
      </View>
    );
  const rename = (): void => setTyped(name);
  return (
    <Pressable
      onPress={onPress ?? rename}
      onLongPress={rename}
      {...(onPress && saysFirst('tape'))}
      role="button"
      aria-label={onPress ? say.controls.openName(name) : say.controls.renameName(name)}
      aria-expanded={onPress ? open : undefined}
      style={[styles.tape, open && styles.open, dim && styles.dim]}
      hitSlop={{ top: 8, bottom: 8 }}
    >
      <Text numberOfLines={1} style={type.tape}>
        {name}
      </Text>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  tape: {
    minHeight: 28,
    paddingHorizontal: 10,
    justifyContent: 'center',
    backgroundColor: colour.tape,
    ...web({ maxWidth: 'min(200px, 100%)' }),
    ...web({ clipPath: 'polygon(0 0, 100% 0, calc(100% - 3px) 25%, 100% 50%, calc(100% - 3px) 75%, 100% 100%, 0 100%, 3px 75%, 0 50%, 3px 25%)' }),
  },
  open: { borderBottomWidth: 3, borderBottomColor: colour.signal },
  dim: { opacity: 0.6 },
  field: { minWidth: 90, maxWidth: 170, paddingVertical: 2, ...web({ outlineStyle: 'none', backgroundColor: 'transparent' }) },
});
