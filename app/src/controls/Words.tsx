import { useState } from 'react';
import { Pressable, StyleSheet, Text, TextInput, View, type StyleProp, type TextStyle } from 'react-native';
import Pen from 'lucide-react-native/icons/pencil';
import { colour, radius, touch, type, web } from '../theme/tokens';
import { IconButton } from './Button';
import { say } from '../words';
import { taken } from './taken';

interface Props {
  /** What they are, as in "Name of the version". */
  readonly label: string;
  readonly value: string;
  /** What stands there while there are none; they may be empty then. */
  readonly empty?: string;
  readonly longest: number;
  readonly style?: StyleProp<TextStyle>;
  readonly onKeep: (words: string) => void;
  /** What a tap on the words themselves does, and what it is called. */
  readonly act?: { readonly label: string; readonly pressed: boolean; readonly onPress: () => void };
}

/** Words with a pen beside them: a tap on it writes them anew in place. Escape leaves them as they were. */
export function Words({ label, value, empty, longest, style = type.label, onKeep, act }: Props) {
  const [typed, setTyped] = useState<string>();
  const end = (keep: boolean): void => {
    const words = typed?.trim();
    setTyped(undefined);
    if (keep && words !== undefined && words !== value && (words || empty)) onKeep(words);
  };
  if (typed !== undefined)
    return (
      <TextInput
        ref={taken}
        maxLength={longest}
        aria-label={label}
        value={typed}
        onChangeText={setTyped}
        onBlur={() => end(true)}
        onSubmitEditing={() => end(true)}
        onKeyPress={({ nativeEvent }) => nativeEvent.key === 'Escape' && end(false)}
        style={[style, styles.field]}
      />
    );
  const words = (
    <Text style={[style, styles.words, !value && { color: colour.quiet }]} numberOfLines={3}>
      {value || empty}
    </Text>
  );
  return (
    <View style={styles.line}>
      {act ? (
        <Pressable role="button" aria-label={act.label} aria-pressed={act.pressed} onPress={act.onPress} style={styles.act}>
          {words}
        </Pressable>
      ) : (
        words
      )}
      <IconButton icon={Pen} label={say.controls.writeLabel(label)} onPress={() => setTyped(value)} />
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', minHeight: touch, flex: 1, minWidth: 0 },
  words: { flex: 1, minWidth: 0 },
  act: { flexDirection: 'row', alignItems: 'center', minHeight: touch, flex: 1, minWidth: 0 },
  field: {
    flex: 1,
    minWidth: 0,
    minHeight: touch,
    paddingHorizontal: 8,
    marginLeft: -8,
    borderRadius: radius.s,
    backgroundColor: colour.well,
    ...web({ outlineStyle: 'none' }),
  },
});
