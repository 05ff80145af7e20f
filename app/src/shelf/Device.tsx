import { StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { Sheet } from '../controls/Sheet';
import { Switch } from '../controls/Switch';
import { useDrawing, letGraphicsDraw } from '../state/drawing';
import { noteTold, TOOL_WORDS, useWasTold } from '../state/told';
import { type } from '../theme/tokens';

/** What is true of this device alone: the machine that draws pictures in it. */
export function Device({ onClose }: { onClose: () => void }) {
  const { drawing, use } = useDrawing(useShallow(({ drawing, use }) => ({ drawing, use })));
  const worded = !useWasTold(TOOL_WORDS);
  return (
    <Sheet title="This device" onClose={onClose}>
      <View style={styles.line}>
        <View style={styles.words}>
          <Text style={type.label}>Graphics processor</Text>
          <Text style={type.small}>Draws pictures while you work. Files are made without it.</Text>
        </View>
        <Switch label="Draw with the graphics processor" on={use !== 'off'} onToggle={() => letGraphicsDraw(use === 'off')} />
      </View>
      <Text role="status" style={type.body}>
        {drawing === undefined
          ? 'The engine has not begun yet.'
          : drawing.machine === 'gpu'
            ? `It draws: ${drawing.name}.`
            : `The processor draws. ${drawing.why}`}
      </Text>
      <View style={styles.line}>
        <View style={styles.words}>
          <Text style={type.label}>Words under the tools</Text>
          <Text style={type.small}>Beside the photo on the bench.</Text>
        </View>
        <Switch label="Words under the tools" on={worded} onToggle={() => noteTold(TOOL_WORDS, worded)} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 12 },
  words: { flex: 1, gap: 2 },
});
