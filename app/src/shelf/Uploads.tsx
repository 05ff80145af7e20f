import { useEffect, useState } from 'react';
import { Image, StyleSheet, Text, View } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { isRawName } from '@bexlen/api';
import { IconButton } from '../controls/Button';
import { colour, radius, type } from '../theme/tokens';
import { clearUploads, isUnderWay, useUploads, type Upload } from './sending';
import { say } from '../words';

const WORDS: Record<Exclude<Upload['state'], 'sending'>, string> = {
  waiting: say.shelf.waits,
  held: say.shelf.waitsForTheServer,
  done: say.shelf.onTheShelf,
  known: say.shelf.wasOnTheShelfAlready,
  refused: say.shelf.refused,
};

/** What becomes of a file that is being sent: its bytes first, then the server looks at it, which takes a raw file some seconds. */
const onTheWay = ({ name, progress }: Upload): string =>
  progress < 1 ? `${Math.round(progress * 100)} %` : isRawName(name) ? say.shelf.isBeingDeveloped : say.shelf.isBeingRead;

/** A list in which all went well goes by itself. */
const GONE_MS = 4000;

/** More than that are summed up. */
const SEVERAL = 3;

/** Files that are being imported, and what became of them. */
export function Uploads() {
  const uploads = useUploads((state) => state.uploads);
  const busy = uploads.some(isUnderWay);
  const well = uploads.length > 0 && uploads.every(({ state }) => state === 'done' || state === 'known');
  useEffect(() => {
    if (!well) return;
    const timer = setTimeout(clearUploads, GONE_MS);
    return () => clearTimeout(timer);
  }, [well, uploads.length]);
  if (uploads.length === 0) return null;
  const arrived = uploads.filter(({ state }) => state === 'done' || state === 'known').length;
  return (
    <View role="group" style={styles.list} aria-label={say.shelf.imports}>
      {uploads.length > SEVERAL && (
        <Text role="status" style={[type.label, styles.sum]}>
          {say.shelf.arrivedOfCountAreOnThe(arrived, uploads.length)}
        </Text>
      )}
      {uploads.map((upload, i) => (
        <View key={upload.id} role={upload.state === 'refused' ? 'alert' : 'status'} style={styles.item}>
          <View style={styles.line}>
            <Text style={[type.label, styles.name]} numberOfLines={1}>
              {upload.name}
            </Text>
            <Text style={[type.small, upload.state === 'refused' && { color: colour.fault }]}>
              {upload.state === 'sending' ? onTheWay(upload) : WORDS[upload.state]}
            </Text>
            {i === 0 && !busy && <IconButton icon={X} label={say.shelf.clearTheListOfImports} onPress={clearUploads} />}
          </View>
          {upload.state === 'sending' && (
            <View style={styles.track}>
              <View style={[styles.bar, { width: `${upload.progress * 100}%` }]} />
            </View>
          )}
          {upload.state === 'sending' && upload.preview && <Stored uri={upload.preview} name={upload.name} />}
          {upload.message && (
            <Text style={type.body}>
              {upload.message} {upload.hint}
            </Text>
          )}
        </View>
      ))}
    </View>
  );
}

/** The picture that the camera stored in its file; nothing where it stored none. */
function Stored({ uri, name }: { uri: string; name: string }) {
  const [none, setNone] = useState(false);
  if (none) return null;
  return (
    <Image
      source={{ uri }}
      style={styles.stored}
      resizeMode="contain"
      onError={() => setNone(true)}
      aria-label={say.shelf.nameAsTheCameraShowedIt(name)}
    />
  );
}

const styles = StyleSheet.create({
  list: { gap: 6, padding: 8, backgroundColor: colour.desk, borderRadius: radius.m },
  sum: { paddingHorizontal: 6 },
  item: { gap: 4, paddingHorizontal: 6 },
  line: { flexDirection: 'row', gap: 8, alignItems: 'center' },
  name: { flex: 1 },
  track: { height: 4, backgroundColor: colour.groove, borderRadius: 2 },
  stored: { height: 180, borderRadius: radius.m, backgroundColor: colour.groove },
  bar: { height: 4, backgroundColor: colour.signal, borderRadius: 2 },
});
