import { Image, Pressable, StyleSheet, Text, View } from 'react-native';
import { LONGEST_NAME, type VersionSummary } from '@bexlen/api';
import { versionThumbUrl } from '../state/server';
import { colour, radius, type } from '../theme/tokens';
import { Words } from './Words';
import { say } from '../words';

interface Props {
  readonly version: VersionSummary;
  readonly note: string;
  /** Whether it is the one on the bench. */
  readonly current?: boolean;
  readonly onOpen: () => void;
  readonly onRename: (name: string) => void;
}

/** A version: its picture and name, which open it, a pen that renames it, and a note. */
export function VersionLine({ version, note, current = false, onOpen, onRename }: Props) {
  return (
    <View style={styles.line}>
      <Pressable tabIndex={-1} aria-hidden onPress={onOpen}>
        <Image source={{ uri: versionThumbUrl(version) }} style={styles.thumb} resizeMode="cover" alt="" />
      </Pressable>
      <View style={styles.words}>
        <Words
          label={say.controls.nameOfName(version.name)}
          value={version.name}
          longest={LONGEST_NAME}
          onKeep={onRename}
          act={{ label: say.controls.openName(version.name), pressed: current, onPress: onOpen }}
        />
        <Text style={type.small}>{note}</Text>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 10, flex: 1, minWidth: 0 },
  thumb: { width: 64, height: 56, borderRadius: radius.s, backgroundColor: colour.well },
  words: { flex: 1, minWidth: 0 },
});
