import { useEffect, useState } from 'react';
import { Image, Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { router, useLocalSearchParams } from 'expo-router';
import Download from 'lucide-react-native/icons/download';
import Plus from 'lucide-react-native/icons/plus';
import { pictureSize } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { IconButton } from '../controls/Button';
import { useFiles } from '../controls/FileField';
import { Places } from '../controls/Places';
import { Sheet } from '../controls/Sheet';
import { workingEdge } from '../engine/device';
import { showPhoto } from '../engine/preview';
import { knowPhotos, openShelf, putLookOn, useShelf } from '../shelf/shelf';
import { layOut, useBench } from '../state/bench';
import { save } from '../state/save';
import { looksUrl, sentenceOf, server, thumbUrl } from '../state/server';
import { colour, radius, type, WIDE } from '../theme/tokens';
import { Beside } from '../viewer/Beside';
import { Variants } from './Variants';
import { Viewer } from '../viewer/Viewer';
import { importLooks, photoOfBook, showOn, useBook, type Shown } from './book';
import { MoreOfLook } from './LookMore';
import { LookChooser } from './Looks';
import { say } from '../words';

/** All looks on a photo of one's own; what is chosen is put on this photo, or on those that were selected on the shelf. */
export function Lookbook() {
  const { photos: given } = useLocalSearchParams<{ photos?: string }>();
  const targets = given ? given.split(',') : [];
  const { photos, long, state } = useShelf(useShallow(({ photos, long, state }) => ({ photos, long, state })));
  const { width, height, scale } = useWindowDimensions();
  const beside = width >= WIDE || width > height;
  const [chosen, setChosen] = useState(() => targets[0] ?? photoOfBook());
  const [choosing, setChoosing] = useState(false);
  const [busy, setBusy] = useState(false);
  const files = useFiles(say.looks.filesOfLooks, '.json,.zip,application/json,application/zip', (given) => void importLooks(given), true);
  const onShelf = photos.filter(({ binned }) => !binned);
  // One of a long shelf may have to be asked for.
  const photo = onShelf.find(({ id }) => id === chosen) ?? (long && targets.length > 0 ? undefined : onShelf[0]);
  const laid = useBench(({ versionId }) => versionId === LOOKBOOK);
  const geometry = useBench((bench) => bench.stack().geometry);
  const edge = workingEdge({ width, height, scale }, photo ?? { width: 1, height: 1 });
  useEffect(() => void openShelf(), []);
  useEffect(() => void (state === 'ready' && chosen !== '' && knowPhotos([chosen])), [state, chosen]);
  useEffect(() => {
    if (!photo) return;
    let stop: (() => void) | undefined;
    let gone = false;
    void layLatest(photo).then(() => {
      if (!gone) stop = showPhoto(photo, edge);
    });
    return () => {
      gone = true;
      stop?.();
      useBench.setState({ versionId: '', photo: undefined, draft: undefined });
    };
    // The photo is the same one for as long as its id is.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [photo?.id, edge]);
  const put = async ({ id, look }: Shown, strength: number): Promise<void> => {
    if (!photo) return;
    setBusy(true);
    const order = { photos: targets.length > 0 ? targets : [photo.id], where: useBook.getState().where, fit: useBook.getState().fit, strength };
    try {
      const made = await putLookOn(id, look.name, order);
      const [only] = made;
      if (targets.length === 0 && only) router.replace({ pathname: '/bench/[version]', params: { version: only } });
      else router.replace('/');
    } catch (error) {
      useBook.setState({ message: sentenceOf(error, say.looks.theLookCouldNotBePut) });
    }
    setBusy(false);
  };
  const act = targets.length > 1 ? say.looks.putOnCountPhotos(targets.length) : say.looks.putOnThisPhoto;
  const viewer = photo && laid ? <Viewer name={photo.name} fullWidth={pictureSize(geometry, photo).width} /> : <View style={styles.viewer} />;
  const head = (
    <View style={styles.head}>
      <Text role="heading" aria-level={1} style={styles.title}>
        {say.looks.looks}
      </Text>
      {photo && targets.length === 0 && (
        <Pressable role="button" aria-label={say.looks.shownOnNameChooseAnotherPhoto(photo.name)} onPress={() => setChoosing(true)} style={styles.on}>
          <Text style={type.small} numberOfLines={1}>
            {say.looks.onName(photo.name)}
          </Text>
        </Pressable>
      )}
      {targets.length > 0 && (
        <Text style={[type.small, styles.grow]}>
          {say.looks.forWhat(targets.length === 1 ? say.looks.onePhoto : say.looks.countPhotos(targets.length))}
        </Text>
      )}
      <IconButton icon={Plus} label={say.looks.takeInAFileOfLooks} onPress={() => files.choose()} />
      <IconButton icon={Download} label={say.looks.saveYourLooksAsAFile} onPress={() => save(looksUrl())} />
    </View>
  );
  const body = photo ? (
    <LookChooser
      photos={targets.length > 0 ? onShelf.filter(({ id }) => targets.includes(id)) : [photo]}
      act={act}
      busy={busy}
      onPut={(shown, strength) => void put(shown, strength)}
    />
  ) : (
    <Text style={[type.body, styles.empty]}>{state === 'opening' ? '' : say.looks.looksAreShownOnAPhoto}</Text>
  );
  return (
    <View style={styles.screen}>
      {beside ? (
        <View style={styles.beside}>
          <View style={styles.viewer}>{viewer}</View>
          <View style={styles.panel}>
            {head}
            {body}
          </View>
        </View>
      ) : (
        <>
          <View style={{ height: Math.round(height * 0.34) }}>{viewer}</View>
          <View style={styles.sheet}>
            {head}
            {body}
          </View>
        </>
      )}
      <Places here="looks" />
      <MoreOfLook />
      <Beside />
      <Variants />
      {files.field}
      {choosing && (
        <Sheet title={say.looks.showLooksOn} onClose={() => setChoosing(false)}>
          <View style={styles.photos}>
            {onShelf.map((one) => (
              <Pressable
                key={one.id}
                role="button"
                aria-label={say.looks.showLooksOnName(one.name)}
                onPress={() => {
                  showOn(one.id);
                  setChosen(one.id);
                  setChoosing(false);
                }}
                style={styles.photo}
              >
                <Image source={{ uri: thumbUrl(one.id) }} style={styles.thumb} resizeMode="cover" alt="" />
                <Text style={type.small} numberOfLines={1}>
                  {one.name}
                </Text>
              </Pressable>
            ))}
          </View>
        </Sheet>
      )}
    </View>
  );
}

/** What the bench calls what is laid out here: nothing of it is kept. */
const LOOKBOOK = 'lookbook';

/** Lays out the photo as its last version has it: looks come on that. */
async function layLatest(photo: Photo): Promise<void> {
  const [latest] = photo.versions;
  const version = latest && (await server.version(latest.id).catch(() => undefined));
  const step = version?.steps[version.cursor];
  if (step) layOut(photo, { id: LOOKBOOK, name: '' }, { steps: [step], cursor: 0 });
}

const styles = StyleSheet.create({
  screen: { flex: 1, backgroundColor: colour.well },
  beside: { flex: 1, flexDirection: 'row', minHeight: 0 },
  viewer: { flex: 1, minWidth: 0 },
  panel: { width: 440, maxWidth: '55%', backgroundColor: colour.desk, paddingTop: 8 },
  sheet: { flex: 1, minHeight: 0, backgroundColor: colour.desk, borderTopLeftRadius: 10, borderTopRightRadius: 10, paddingTop: 6 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingLeft: 12, paddingRight: 4 },
  title: { ...type.title, fontSize: 24 },
  on: { flex: 1, minHeight: 44, justifyContent: 'center', minWidth: 0 },
  grow: { flex: 1 },
  empty: { padding: 24 },
  photos: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  photo: { width: '31%', gap: 2 },
  thumb: { width: '100%', height: 72, borderRadius: radius.s },
});
