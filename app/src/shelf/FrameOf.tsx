import { Image, Pressable, StyleSheet, Text, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import Trash from 'lucide-react-native/icons/trash';
import Back from 'lucide-react-native/icons/undo-2';
import type { Family } from '@bexlen/core';
import type { Photo } from '@bexlen/server/api';
import { IconButton } from '../controls/Button';
import { thumbUrl } from '../state/server';
import { colour, familyMarks, type } from '../theme/tokens';
import { changePhoto } from './shelf';

interface Props {
  readonly photo: Photo;
  readonly number: number;
  readonly width: number;
  readonly height: number;
  readonly bin: boolean;
  readonly onOpen: () => void;
}

/** A photo on the sheet: its frame number, a tick for every layer, and a wax pencil's ring if it is picked. */
export function FrameOf({ photo, number, width, height, bin, onOpen }: Props) {
  const families = photo.versions[0]?.families ?? [];
  return (
    <View style={{ width }}>
      <Pressable role="button" aria-label={`Open ${photo.name}`} onPress={onOpen} disabled={bin} style={{ width, height }}>
        <Image source={{ uri: thumbUrl(photo.id) }} aria-label={photo.caption || photo.name} style={{ width, height }} resizeMode="cover" />
        {photo.picked && (
          <Svg viewBox="0 0 100 100" preserveAspectRatio="none" style={StyleSheet.absoluteFill} aria-label="Picked">
            <Path d="M12 22C30 4 78 5 92 26C104 52 92 88 60 95C28 101 3 82 6 48C7 33 14 20 34 12" stroke={colour.signal} strokeWidth={2.2} strokeLinecap="round" fill="none" opacity={0.85} />
          </Svg>
        )}
      </Pressable>
      <View style={styles.edge}>
        <Pressable role="button" aria-label={`${photo.picked ? 'Do not pick' : 'Pick'} ${photo.name}`} aria-pressed={photo.picked} onPress={() => void changePhoto(photo, { picked: !photo.picked })} style={styles.number}>
          <Text style={[type.figure, photo.picked && { color: colour.signalText }]}>{String(number).padStart(2, '0')}</Text>
        </Pressable>
        <View style={styles.words}>
          <Text numberOfLines={1} style={type.small}>
            {photo.name}
          </Text>
          <View style={styles.ticks} aria-label={`${families.length} layers`}>
            {families.slice(0, 14).map((family, i) => (
              <View key={i} style={[styles.tick, { backgroundColor: familyMarks[family as Family].hue }]} />
            ))}
          </View>
        </View>
        <IconButton icon={bin ? Back : Trash} label={bin ? `Take ${photo.name} back` : `Put ${photo.name} into the bin`} onPress={() => void changePhoto(photo, { binned: !bin })} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  edge: { flexDirection: 'row', alignItems: 'center', minHeight: 44 },
  number: { minWidth: 32, minHeight: 44, justifyContent: 'center' },
  words: { flex: 1, minWidth: 0, gap: 3 },
  ticks: { flexDirection: 'row', gap: 3, height: 7 },
  tick: { width: 4, height: 7 },
});
