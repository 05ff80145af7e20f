import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { fileLabel, readCube, type FileParam } from '@bexlen/core';
import FileUp from 'lucide-react-native/icons/file-up';
import { Button } from '../controls/Button';
import { useFiles } from '../controls/FileField';
import { Recede } from '../controls/held';
import { Refusal, server } from '../state/server';
import { colour, space, touch, type } from '../theme/tokens';
import { valueOf } from '../edits/target';
import type { EditorProps } from './ParamEditor';
import { say, told } from '../words';

/** A file that a layer works with: chosen here, kept by the server, named in the version. */
export function FileEditor({ target, name, param }: EditorProps<FileParam>) {
  const value = String(valueOf(target, name));
  const [fault, setFault] = useState('');
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      const text = await file.text();
      readCube(text);
      target.keep({ [name]: (await server.addCube(text, file.name)).name });
      setFault('');
    } catch (error) {
      const { message } = error as Error;
      const hint = error instanceof Refusal ? error.fault.hint : ((error as { hint?: string }).hint ?? '');
      setFault(`${file.name}: ${told(message)} ${told(hint)}`.trim());
    }
  };
  const files = useFiles(say.params.labelOfName(param.label, target.name), param.ending, ([file]) => void take(file));
  return (
    <Recede style={styles.file}>
      <View style={styles.line}>
        <Text style={[type.label, styles.grow]} numberOfLines={1}>
          {value ? fileLabel(value) : say.params.noEndingFileYet(param.ending)}
        </Text>
        {value !== '' && <Button label={say.params.takeItOut} onPress={() => target.keep({ [name]: '' })} />}
        <Button
          icon={FileUp}
          label={value ? say.params.chooseAnother : say.params.chooseAEndingFile(param.ending)}
          strong={!value}
          onPress={() => files.choose()}
        />
      </View>
      {fault !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      )}
      {files.field}
    </Recede>
  );
}

const styles = StyleSheet.create({
  file: { paddingHorizontal: space.m, gap: 6 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: touch },
  grow: { flex: 1 },
});
