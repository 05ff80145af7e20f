import { useEffect, useState } from 'react';
import { useLocalSearchParams } from 'expo-router';
import { Image, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from '../controls/Button';
import { Sheet } from '../controls/Sheet';
import { waitingFiles, type Waiting } from '../offline/waiting';
import { colour, radius, type } from '../theme/tokens';
import { importFiles } from './sending';
import { say } from '../words';

interface Handed extends Waiting {
  readonly picture: string;
}

/** What another program handed over, with its pictures: it comes to the shelf only if somebody says so. */
export function Handed() {
  const { leftout } = useLocalSearchParams<{ leftout?: string }>();
  const [files, setFiles] = useState<readonly Handed[]>([]);
  useEffect(() => {
    let pictures: string[] = [];
    let left = false;
    waitingFiles.all().then(
      (all) => {
        if (left) return;
        const handed = all.filter((one) => one.handed).map((one) => ({ ...one, picture: URL.createObjectURL(one.file) }));
        pictures = handed.map(({ picture }) => picture);
        setFiles(handed);
      },
      // A browser that keeps nothing has been handed nothing.
      () => undefined,
    );
    return () => {
      left = true;
      pictures.forEach((picture) => URL.revokeObjectURL(picture));
    };
  }, []);
  if (files.length === 0) return null;
  const away = async (): Promise<void> => {
    setFiles([]);
    for (const { key } of files) await waitingFiles.remove(key);
  };
  const takeIn = (): void => {
    importFiles(files.map(({ name, file }) => new File([file], name, { type: file.type })));
    void away();
  };
  const more = Number(leftout) > 0 ? ` ${say.shelf.countMoreWereLeftOut(Number(leftout))}` : '';
  return (
    <Sheet title={files.length === 1 ? say.shelf.onePhotoHandedOver : say.shelf.countPhotosHandedOver(files.length)} onClose={() => setFiles([])}>
      <Text style={type.body}>{`${say.shelf.anotherProgramHandedThemOver}${more}`}</Text>
      <ScrollView horizontal contentContainerStyle={styles.row}>
        {files.map(({ key, name, picture }) => (
          <View key={key} style={styles.one}>
            <Image source={{ uri: picture }} style={styles.picture} resizeMode="contain" aria-label={name} />
            <Text style={type.small} numberOfLines={1}>
              {name}
            </Text>
          </View>
        ))}
      </ScrollView>
      <View style={styles.choice}>
        <Button label={say.shelf.discard} onPress={() => void away()} />
        <Button strong label={say.shelf.takeIn} onPress={takeIn} />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  row: { gap: 10 },
  one: { width: 120, gap: 4 },
  picture: { width: 120, height: 90, borderRadius: radius.m, backgroundColor: colour.groove },
  choice: { flexDirection: 'row', justifyContent: 'flex-end', gap: 10 },
});
