import { useEffect } from 'react';
import { Image, Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import type { PhotoParam } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { Button } from '../controls/Button';
import { Recede } from '../controls/held';
import { valueOf } from '../edits/target';
import { knowPhotos, openShelf, useShelf } from '../shelf/shelf';
import { useBench } from '../state/bench';
import { thumbUrl } from '../state/server';
import { colour, radius, space, touch, type } from '../theme/tokens';
import { useWhere } from '../state/byHand';
import type { EditorProps } from './ParamEditor';
import { say } from '../words';

const STRAIGHT = { ax: 0, ay: 0, bx: 0, by: 0, cx: 0, cy: 0, dx: 0, dy: 0 };

/** So large that a picture covers the photo. */
function covering(photo: { width: number; height: number } | undefined, aspect: number): number {
  const edge = photo ? Math.max(photo.width, photo.height) : 1;
  return photo ? Math.max(photo.width / edge, photo.height / edge / aspect) : 1;
}

/** Which photo of the shelf is laid over, and how its corners move. */
export function PhotoEditor({ target, name }: EditorProps<PhotoParam>) {
  const value = String(valueOf(target, name));
  const { photos, state } = useShelf(useShallow(({ photos, state }) => ({ photos, state })));
  const own = useBench((bench) => bench.photo);
  const pulling = useWhere((where) => where.pulling);
  useEffect(() => {
    if (useShelf.getState().state !== 'ready') void openShelf();
    return () => useWhere.setState({ pulling: false });
  }, []);
  useEffect(() => void (state === 'ready' && value !== '' && knowPhotos([value])), [state, value]);
  const current = photos.find(({ id }) => id === value);
  const take = (photo: Photo): void => {
    const aspect = photo.height / photo.width;
    target.keep({ [name]: photo.id, aspect, ...(value === '' && { x: 0, y: 0, size: covering(own, aspect) }) }, photo.name);
  };
  return (
    <View role="group" aria-label={say.params.photoOfThePicture} style={styles.board}>
      {value === '' && <Text style={[type.small, styles.note]}>{say.params.chooseThePhotoThatIsLaid}</Text>}
      {value !== '' && !current && state === 'ready' && <Text style={[type.body, styles.note]}>{say.params.thisPhotoIsNoLongerOn}</Text>}
      <Recede>
        <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.row}>
          {photos
            .filter(({ binned, id }) => !binned || id === value)
            .map((photo) => (
              <Pressable
                key={photo.id}
                role="button"
                aria-label={say.params.layOverName(photo.name)}
                aria-pressed={photo.id === value}
                onPress={() => take(photo)}
                style={[styles.photo, photo.id === value && styles.taken]}
              >
                <Image source={{ uri: thumbUrl(photo.id) }} resizeMode="cover" style={styles.picture} alt="" />
                <Text style={[type.small, styles.name]} numberOfLines={1}>
                  {photo.name}
                </Text>
              </Pressable>
            ))}
        </ScrollView>
      </Recede>
      {current && (
        <Recede style={styles.line}>
          <Button
            label={pulling ? say.params.pullingCornersDone : say.params.pullCorners}
            strong={pulling}
            onPress={() => useWhere.setState({ pulling: !pulling })}
          />
          <Button label={say.params.straighten} onPress={() => target.keep(STRAIGHT, 'straightened')} />
          <Button
            label={say.params.cover}
            onPress={() =>
              target.keep({ x: 0, y: 0, angle: 0, size: covering(own, current.height / current.width), ...STRAIGHT }, say.params.coversThePhoto)
            }
          />
        </Recede>
      )}
      {current && <Text style={[type.small, styles.note]}>{say.params.dragItOnThePhotoA}</Text>}
    </View>
  );
}

const styles = StyleSheet.create({
  board: { gap: 4, marginBottom: 6 },
  note: { paddingHorizontal: space.m, paddingVertical: 2 },
  row: { gap: 8, paddingHorizontal: space.m, paddingBottom: 4 },
  line: { flexDirection: 'row', gap: 8, paddingHorizontal: space.m, minHeight: touch, flexWrap: 'wrap' },
  photo: {
    width: 92,
    borderRadius: radius.m,
    overflow: 'hidden',
    backgroundColor: colour.raised,
    borderBottomWidth: 2,
    borderBottomColor: colour.raised,
  },
  taken: { borderBottomColor: colour.signal },
  picture: { width: 92, height: 62, backgroundColor: colour.well },
  name: { paddingHorizontal: 6, paddingVertical: 5 },
});
