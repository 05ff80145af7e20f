import { useEffect, useRef, useState, type RefObject } from 'react';
import { Image, Pressable, StyleSheet, Text, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import type { Family } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { aboutToOpen } from '../state/opening';
import { thumbUrl, versionThumbUrl } from '../state/server';
import { colour, familyMarks, type } from '../theme/tokens';
import { CARRIED } from './Rolls';
import { changePhoto } from './shelf';
import { say } from '../words';

interface Props {
  readonly photo: Photo;
  readonly number: number | undefined;
  readonly width: number;
  readonly height: number;
  /** While some are being selected: whether this one is. */
  readonly selected: boolean | undefined;
  /** Whether it is read about beside the sheet. */
  readonly read: boolean;
  readonly onPress: () => void;
  readonly onHold: () => void;
  readonly onAbout: () => void;
  /** Ids of the photos that a drag of this one carries. */
  readonly carries: () => readonly string[];
}

/** A photo on the sheet: its frame number, a tick for every layer, and a wax pencil's ring if it is picked. */
export function FrameOf({ photo, number, width, height, selected, read, onPress, onHold, onAbout, carries }: Props) {
  const ref = useCarried(carries);
  const frame = number === undefined ? '·' : String(number).padStart(2, '0');
  const [latest] = photo.versions;
  const families = latest?.families ?? [];
  // A treatment that cannot be made, as for want of a colour table, leaves the photo to be seen.
  const [failed, setFailed] = useState<string>();
  const treated = latest && versionThumbUrl(latest);
  const shown = treated !== undefined && treated !== failed ? treated : thumbUrl(photo.id);
  return (
    <View ref={ref} style={{ width }}>
      <Pressable
        role={selected === undefined ? 'button' : 'checkbox'}
        aria-checked={selected}
        aria-label={`${selected === undefined ? say.shelf.openName(photo.name) : say.shelf.selectName(photo.name)}${photo.missing ? say.shelf.originalMissing : ''}`}
        onPressIn={() => selected === undefined && aboutToOpen(photo, latest)}
        onPress={onPress}
        onLongPress={onHold}
        style={{ width, height }}
      >
        <Image
          source={{ uri: shown }}
          onError={() => setFailed(treated)}
          aria-label={photo.caption || photo.name}
          style={[styles.picture, { width, height }]}
          resizeMode="cover"
        />
        {photo.missing && (
          <View pointerEvents="none" style={styles.missing}>
            <Text style={[type.small, { color: colour.fault }]}>{say.shelf.noOriginal}</Text>
          </View>
        )}
        {selected && <View pointerEvents="none" style={styles.selected} />}
        {photo.picked && (
          <Svg
            viewBox="0 0 100 100"
            preserveAspectRatio="none"
            width={width}
            height={height}
            style={StyleSheet.absoluteFill}
            aria-label={say.shelf.picked}
          >
            <Path
              d="M12 22C30 4 78 5 92 26C104 52 92 88 60 95C28 101 3 82 6 48C7 33 14 20 34 12"
              stroke={colour.signal}
              strokeWidth={2.2}
              strokeLinecap="round"
              fill="none"
              opacity={0.85}
            />
          </Svg>
        )}
      </Pressable>
      <View style={styles.edge}>
        <Pressable
          role="button"
          aria-label={photo.picked ? say.shelf.frameDoNotPickName(frame, photo.name) : say.shelf.framePickName(frame, photo.name)}
          aria-pressed={photo.picked}
          onPress={() => void changePhoto(photo, { picked: !photo.picked })}
          style={styles.number}
        >
          <Text style={[type.figure, photo.picked && { color: colour.signalText }]}>{frame}</Text>
        </Pressable>
        <Pressable role="button" aria-label={say.shelf.aboutName(photo.name)} aria-pressed={read} onPress={onAbout} style={styles.words}>
          <Text numberOfLines={1} style={[type.small, read && styles.read]}>
            {photo.name}
          </Text>
          <View role="img" style={styles.ticks} aria-label={say.shelf.countLayers(families.length)}>
            {families.slice(0, 14).map((family, i) => (
              <View key={i} style={[styles.tick, { backgroundColor: familyMarks[family as Family].hue }]} />
            ))}
          </View>
        </Pressable>
      </View>
    </View>
  );
}

/** Lets a photo be drawn onto a roll with the mouse. */
function useCarried(carries: () => readonly string[]): RefObject<View | null> {
  const ref = useRef<View>(null);
  const latest = useRef(carries);
  useEffect(() => {
    latest.current = carries;
  });
  useEffect(() => {
    const element = ref.current as unknown as HTMLElement | null;
    if (typeof element?.addEventListener !== 'function') return;
    // A finger that rests selects; only a mouse draws.
    if (!matchMedia('(pointer: fine)').matches) return;
    element.draggable = true;
    const start = (event: DragEvent): void => {
      event.dataTransfer?.clearData();
      event.dataTransfer?.setData(CARRIED, latest.current().join(','));
    };
    element.addEventListener('dragstart', start);
    return () => element.removeEventListener('dragstart', start);
  }, []);
  return ref;
}

const styles = StyleSheet.create({
  selected: { ...StyleSheet.absoluteFill, borderWidth: 4, borderColor: colour.signal },
  missing: { position: 'absolute', left: 0, right: 0, bottom: 0, backgroundColor: colour.well, paddingHorizontal: 8, paddingVertical: 4 },
  edge: { flexDirection: 'row', alignItems: 'center', height: 44 },
  number: { minWidth: 32, minHeight: 44, justifyContent: 'center' },
  picture: { backgroundColor: colour.desk },
  words: { flex: 1, minWidth: 0, minHeight: 44, justifyContent: 'center', gap: 3, paddingRight: 6 },
  read: { color: colour.signalText },
  ticks: { flexDirection: 'row', gap: 3, height: 7 },
  tick: { width: 4, height: 7 },
});
