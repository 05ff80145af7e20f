import { useEffect, useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from '../controls/Button';
import { useFiles } from '../controls/FileField';
import { printList } from '../state/print';
import { saveText } from '../state/save';
import { colour, radius, touch, type } from '../theme/tokens';
import { asTheyCame, bind, bindingsFile, conflictOf, keyOf, labelOf, takeBindings, useBindings } from './bindings';
import { FIXED, keys } from './keys';
import { say } from '../words';

/** All keys of the bench: a tap on one, then a press, gives it another. */
export function KeysPanel() {
  const bindings = useBindings((state) => state.bindings);
  const [waiting, setWaiting] = useState<string>();
  const [words, setWords] = useState('');
  useEffect(() => {
    if (waiting === undefined) return;
    const down = (event: KeyboardEvent): void => {
      event.preventDefault();
      event.stopPropagation();
      const conflict = conflictOf(keys, waiting, event.key);
      if (event.key === 'Shift') return;
      setWords(conflict ?? '');
      if (conflict) return;
      bind(waiting, event.key);
      setWaiting(undefined);
    };
    window.addEventListener('keydown', down, { capture: true });
    return () => window.removeEventListener('keydown', down, { capture: true });
  }, [waiting]);
  const print = (): void => printList(say.bench.keysOfTheBench, [...keys.map((each) => [labelOf(keyOf(each)), each.words] as const), ...FIXED]);
  const read = async (file: File | undefined): Promise<void> => {
    if (file) setWords(takeBindings(keys, await file.text()) ?? say.bench.theKeysAreAsTheFile);
  };
  const files = useFiles(say.bench.fileOfKeys, '.json,application/json', ([file]) => void read(file));
  return (
    <>
      {words !== '' && (
        <Text role="alert" style={type.body}>
          {words}
        </Text>
      )}
      {keys.map((each) => (
        <Pressable
          key={each.id}
          role="button"
          aria-label={say.bench.wordsLabelGiveItAnotherKey(each.words, labelOf(keyOf(each, bindings)))}
          aria-pressed={waiting === each.id}
          onPress={() => {
            setWords('');
            setWaiting(waiting === each.id ? undefined : each.id);
          }}
          style={[styles.row, waiting === each.id && styles.waiting]}
        >
          <Text style={[type.figure, styles.key]}>{waiting === each.id ? say.bench.pressAKey : labelOf(keyOf(each, bindings))}</Text>
          <Text style={type.label}>{each.words}</Text>
        </Pressable>
      ))}
      <View style={styles.acts}>
        <Button label={say.bench.print} onPress={print} />
        <Button label={say.bench.saveAsAFile} onPress={() => saveText('Keys.json', bindingsFile())} />
        <Button label={say.bench.takeFromAFile} onPress={() => files.choose()} />
        <Button label={say.bench.asTheyCame} off={Object.keys(bindings).length === 0} onPress={asTheyCame} />
      </View>
      {files.field}
    </>
  );
}

const styles = StyleSheet.create({
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 14,
    minHeight: touch,
    paddingHorizontal: 10,
    borderRadius: radius.m,
    backgroundColor: colour.raised,
  },
  waiting: { borderLeftWidth: 4, borderLeftColor: colour.signal },
  key: { width: 96, color: colour.tape },
  acts: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
