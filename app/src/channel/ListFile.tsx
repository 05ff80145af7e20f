import { useState } from 'react';
import { StyleSheet, Text } from 'react-native';
import FileUp from 'lucide-react-native/icons/file-up';
import { gradeOf, type Correction, type KindLayer } from '@bexlen/core';
import { Button } from '../controls/Button';
import { useFiles } from '../controls/FileField';
import { Recede } from '../controls/held';
import { colour, space, type } from '../theme/tokens';
import { layerTarget } from '../edits/target';
import { say } from '../words';

/** Reads slope, offset, power and saturation from a file of colour corrections; of several one is chosen. */
export function ListFile({ layer }: { layer: KindLayer }) {
  const [all, setAll] = useState<readonly Correction[]>([]);
  const [words, setWords] = useState('');
  const take = (correction: Correction): void => {
    const { params, held } = gradeOf(correction);
    layerTarget(layer).keep(params, say.channel.listId(correction.id));
    setAll([]);
    setWords(held ? say.channel.goesFurther(correction.id) : '');
  };
  const read = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      const { readCdl } = await import('@bexlen/core/formats/read-cdl');
      const found = readCdl(await file.text());
      const [only] = found;
      setWords('');
      if (only && found.length === 1) take(only);
      else setAll(found);
    } catch (error) {
      const { message, hint = '' } = error as Error & { hint?: string };
      setWords(`${file.name}: ${message} ${hint}`);
    }
  };
  const files = useFiles(say.channel.listOfName(layer.name), '.cc,.ccc,.cdl,.xml', ([file]) => void read(file));
  return (
    <Recede style={styles.file}>
      <Button icon={FileUp} label={say.channel.readAListCcCcc} onPress={() => files.choose()} />
      {all.map((correction, i) => (
        <Button key={i} label={say.channel.takeId(correction.id)} onPress={() => take(correction)} />
      ))}
      {words !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {words}
        </Text>
      )}
      {files.field}
    </Recede>
  );
}

const styles = StyleSheet.create({ file: { paddingHorizontal: space.m, paddingVertical: 4, gap: 6 } });
