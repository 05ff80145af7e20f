import { StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { Button, Choice } from '../controls/Button';
import { Sheet } from '../controls/Sheet';
import { Switch } from '../controls/Switch';
import { askToDraw, useDrawing, letGraphicsDraw } from '../state/drawing';
import { noteShown, TOOL_WORDS, useWasShown } from '../state/once';
import { type } from '../theme/tokens';
import { languages, language, say, speak, told } from '../words';

/** What is true of this device alone: the machine that draws pictures in it. */
export function Device({ onClose }: { onClose: () => void }) {
  const { drawing, use } = useDrawing(useShallow(({ drawing, use }) => ({ drawing, use })));
  const worded = !useWasShown(TOOL_WORDS);
  return (
    <Sheet title={say.shelf.thisDevice} onClose={onClose}>
      <View style={styles.line}>
        <View style={styles.words}>
          <Text style={type.label}>{say.shelf.graphicsProcessor}</Text>
          <Text style={type.small}>{say.shelf.drawsPicturesWhileYouWorkFiles}</Text>
        </View>
        <Switch label={say.shelf.drawWithTheGraphicsProcessor} on={use !== 'off'} onToggle={() => letGraphicsDraw(use === 'off')} />
      </View>
      <Text role="status" style={type.body}>
        {drawing === undefined
          ? say.shelf.theEngineHasNotBegunYet
          : drawing.machine === 'gpu'
            ? say.shelf.itDrawsName(drawing.name)
            : say.shelf.theProcessorDrawsWhy(told(drawing.why))}
      </Text>
      {drawing?.machine === 'cpu' && drawing.left && use !== 'off' && <Button label={say.shelf.tryTheGraphicsProcessorAgain} onPress={askToDraw} />}
      <View style={styles.line}>
        <Text style={[type.label, styles.words]}>{say.shelf.language}</Text>
        <Choice label={say.shelf.language} options={languages} value={language} onChoose={speak} />
      </View>
      <View style={styles.line}>
        <View style={styles.words}>
          <Text style={type.label}>{say.shelf.wordsUnderTheTools}</Text>
          <Text style={type.small}>{say.shelf.besideThePhotoOnTheBench}</Text>
        </View>
        <Switch label={say.shelf.wordsUnderTheTools} on={worded} onToggle={() => noteShown(TOOL_WORDS, worded)} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 12 },
  words: { flex: 1, gap: 2 },
});
