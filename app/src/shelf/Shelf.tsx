import { useEffect, useMemo, useRef, useState } from 'react';
import { FlatList, ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { router } from 'expo-router';
import Plus from 'lucide-react-native/icons/plus';
import { photoEndings, type Filter, type Photo, type Sort, type VersionSummary } from '@bexlen/api';
import { Button, Choice } from '../controls/Button';
import { Places } from '../controls/Places';
import { Sheet } from '../controls/Sheet';
import { Search } from '../controls/Search';
import { colour, type, WIDE } from '../theme/tokens';
import { About, AboutPane } from './About';
import { Phone } from '../phone/Phone';
import { Device } from './Device';
import { FileForm } from '../exports/FileForm';
import { useFiles } from '../controls/FileField';
import { noteShelf, shelfBefore } from '../state/place';
import { useFilesFromOutside } from './dropped';
import { FrameOf } from './FrameOf';
import { Handed } from './Handed';
import { Orphans } from './Orphans';
import { IntoRoll, Rolls } from './Rolls';
import { keyOf } from './pages';
import { FILTERS, inTold, onSheet, SORTS } from './sheet';
import { rowsOf } from './rows';
import { importFiles } from './sending';
import { binPhotos, followShelf, lookAt, lookFurther, removePhotos, openShelf, readAbout, takeLookBack, useShelf } from './shelf';
import { Selection } from './Selection';
import { Uploads } from './Uploads';
import { say } from '../words';

const openVersion = ({ id }: VersionSummary): void => router.push({ pathname: '/bench/[version]', params: { version: id } });

/** Opens the bench on the version that was changed last. */
const openBench = (photo: Photo): void => {
  const [latest] = photo.versions;
  if (latest) openVersion(latest);
};

/** Of what is read about a photo, beside the sheet. */
const PANE = 340;

/** A photo in the proportions of the version that is shown of it. */
function shownAs(photo: Photo): { photo: Photo; width: number; height: number } {
  const { width, height } = photo.versions[0] ?? photo;
  return { photo, width, height };
}

/** All photos as a contact sheet: in their own proportions, in rows of even height. */
export function Shelf() {
  const { photos, long, told, state, message, binned, needed, put, about } = useShelf(
    useShallow(({ photos, long, told, state, message, binned, needed, put, about }) => ({
      photos,
      long,
      told,
      state,
      message,
      binned,
      needed,
      put,
      about,
    })),
  );
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const [search, setSearch] = useState('');
  const [sort, setSort] = useState<Sort>('new');
  const [filter, setFilter] = useState<Filter>('all');
  const [was] = useState(shelfBefore);
  const [roll, setRoll] = useState(was?.roll);
  const [moving, setMoving] = useState(false);
  const [phone, setPhone] = useState(false);
  const [device, setDevice] = useState(false);
  const [exporting, setExporting] = useState(false);
  const [bin, setBin] = useState(false);
  const [selected, setSelected] = useState<ReadonlySet<string>>();
  const files = useFiles(say.shelf.photosToImport, READ, importFiles, true);
  useEffect(followShelf, []);
  const comeBackTo = useRef(was?.top ?? 0);
  useEffect(() => noteShelf({ roll }), [roll]);
  useFilesFromOutside();

  const toggle = ({ id }: Photo): void => setSelected((old) => new Set(old?.has(id) ? [...old].filter((it) => it !== id) : [...(old ?? []), id]));
  const press = (photo: Photo): void => {
    if (selected || bin) return toggle(photo);
    if (wide) readAbout(photo.id);
    openBench(photo);
  };
  const moveSelected = async (): Promise<void> => {
    const chosen = photos.filter(({ id }) => selected?.has(id));
    setSelected(undefined);
    await binPhotos(chosen, !bin);
  };
  const wanted = useMemo(() => ({ bin, roll, search, filter, sort }), [bin, roll, search, filter, sort]);
  const found = useMemo(() => (told?.key === keyOf(wanted) ? inTold(photos, told.ids, wanted) : onSheet(photos, wanted)), [photos, told, wanted]);
  useEffect(() => {
    const timer = setTimeout(() => void lookAt(wanted), search === '' ? 0 : TYPING_MS);
    return () => clearTimeout(timer);
  }, [wanted, search, long]);
  // Where not all photos are known, none can be given its number.
  const numbers = useMemo(() => new Map(long ? [] : photos.map(({ id }, i) => [id, photos.length - i])), [photos, long]);
  const read = found.find(({ id }) => id === about) ?? (wide ? found[0] : undefined);
  const sheet = Math.min(width - (wide && read ? PANE : 0), 1400) - 24;
  const rows = useMemo(() => rowsOf(found.map(shownAs), sheet, wide ? 240 : 132), [found, sheet, wide]);
  const offsets = useMemo(() => offsetsOf(rows), [rows]);
  const list = useRef<FlatList<(typeof rows)[number]>>(null);
  const chosen = [...(selected ?? [])];
  const carry = (id: string): readonly string[] => (selected?.has(id) ? chosen : [id]);
  return (
    <View style={styles.screen}>
      <View style={styles.head}>
        <Text role="heading" aria-level={1} style={styles.title}>
          {bin ? say.shelf.bin : say.shelf.shelf}
        </Text>
        <Search label={say.shelf.searchNamesAndCaptions} value={search} onChange={setSearch} style={styles.search} />
      </View>
      <ScrollView horizontal showsHorizontalScrollIndicator={false} style={styles.fixed} contentContainerStyle={styles.line}>
        <Button fixed label={selected ? say.shelf.done : say.shelf.select} onPress={() => setSelected(selected ? undefined : new Set())} />
        <Choice label={say.shelf.order} options={SORTS} value={sort} onChoose={setSort} />
        <Choice label={say.shelf.whichPhotos} options={FILTERS} value={filter} onChoose={setFilter} />
        <Button fixed label={say.shelf.phone} onPress={() => setPhone(true)} />
        <Button fixed label={say.shelf.thisDevice} onPress={() => setDevice(true)} />
        <Button fixed label={bin ? say.shelf.backToTheShelf : say.shelf.bin} onPress={() => (setBin(!bin), setSelected(undefined))} />
      </ScrollView>
      {!bin && <Rolls open={roll} onOpen={setRoll} />}
      <ScrollView style={styles.above} contentContainerStyle={styles.aboveInside}>
        <Uploads />
        {!bin && <Orphans />}
        {message !== '' && (
          <View role="alert" style={styles.empty}>
            <Text style={type.body}>{message}</Text>
            <Button label={say.shelf.tryAgain} onPress={() => void openShelf()} />
          </View>
        )}
        {state === 'ready' && found.length === 0 && (
          <Text style={[type.body, styles.empty]}>{emptyWords(bin, search.trim() !== '' || filter !== 'all')}</Text>
        )}
      </ScrollView>
      <View style={styles.beside}>
        <FlatList
          ref={list}
          data={rows}
          onScroll={({ nativeEvent }) => noteShelf({ top: nativeEvent.contentOffset.y })}
          scrollEventThrottle={250}
          onContentSizeChange={() =>
            comeBackTo.current > 0 &&
            rows.length > 0 &&
            (list.current?.scrollToOffset({ offset: comeBackTo.current, animated: false }), (comeBackTo.current = 0))
          }
          keyExtractor={(row) => row[0]?.it.photo.id ?? ''}
          initialNumToRender={10}
          onEndReached={() => void lookFurther()}
          onEndReachedThreshold={2}
          windowSize={7}
          style={styles.list}
          contentContainerStyle={styles.sheet}
          getItemLayout={(_, index) => ({ index, offset: offsets[index] ?? 0, length: (offsets[index + 1] ?? 0) - (offsets[index] ?? 0) })}
          renderItem={({ item: row }) => (
            <View style={styles.row}>
              {row.map(({ it: { photo }, width: w, height: h }) => (
                <FrameOf
                  key={photo.id}
                  photo={photo}
                  number={numbers.get(photo.id)}
                  width={w}
                  height={h}
                  selected={selected?.has(photo.id)}
                  onPress={() => press(photo)}
                  read={wide && photo.id === read?.id}
                  onHold={() => toggle(photo)}
                  onAbout={() => readAbout(photo.id)}
                  carries={() => carry(photo.id)}
                />
              ))}
            </View>
          )}
        />
        {wide && read && <AboutPane photo={read} onOpen={openVersion} />}
      </View>
      {needed.length > 0 && (
        <View style={styles.undo}>
          <Text style={[type.label, styles.undoText]}>{message}</Text>
          <Button label={say.shelf.keep} onPress={() => useShelf.setState({ needed: [], message: '' })} />
          <Button label={say.shelf.deleteAllTheSame} onPress={() => void removePhotos(needed, true)} />
        </View>
      )}
      {binned.length > 0 && (
        <View style={styles.undo}>
          <Text style={[type.label, styles.undoText]}>
            {binned.length === 1 ? say.shelf.nameIsInTheBin(binned[0]?.name ?? '') : say.shelf.countPhotosAreInTheBin(binned.length)}
          </Text>
          <Button label={say.shelf.undo} onPress={() => void binPhotos(binned, false)} />
        </View>
      )}
      {put && (
        <View style={styles.undo}>
          <Text style={[type.label, styles.undoText]}>
            {say.shelf.nameIsOnWhatAsA(put.name, put.ids.length === 1 ? say.shelf.onePhoto : say.shelf.countPhotos(put.ids.length))}
          </Text>
          <Button label={say.shelf.keep} onPress={() => useShelf.setState({ put: undefined })} />
          <Button label={say.shelf.undo} onPress={() => void takeLookBack(put.ids)} />
        </View>
      )}
      {selected && (
        <Selection
          count={selected.size}
          inBin={bin}
          onLook={() => router.push({ pathname: '/looks', params: { photos: chosen.join(',') } })}
          onFiles={() => setExporting(true)}
          onRoll={() => setMoving(true)}
          onBin={() => void moveSelected()}
          onDelete={() => {
            void removePhotos(photos.filter(({ id }) => selected.has(id)));
            setSelected(undefined);
          }}
        />
      )}
      <Places here="shelf">
        <Button strong icon={Plus} label={say.shelf.importPhotos} onPress={() => files.choose()} />
      </Places>
      {files.field}
      {phone && <Phone onClose={() => setPhone(false)} />}
      {device && <Device onClose={() => setDevice(false)} />}
      <Handed />
      {moving && (
        <IntoRoll
          ids={chosen}
          onClose={() => {
            setMoving(false);
            setSelected(undefined);
          }}
        />
      )}
      {exporting && (
        <Sheet
          title={chosen.length === 1 ? say.shelf.aFileOfOnePhoto : say.shelf.filesOfCountPhotos(chosen.length)}
          onClose={() => setExporting(false)}
        >
          <FileForm
            versionIds={photos.filter(({ id }) => selected?.has(id)).flatMap(({ versions }) => versions[0]?.id ?? [])}
            transparent={photos.some(({ id, alpha }) => alpha && selected?.has(id))}
            wide={photos.some(({ id, gamut }) => gamut === 'display-p3' && selected?.has(id))}
            onDone={() => router.push('/exports')}
          />
        </Sheet>
      )}
      {!wide && read && (
        <Sheet title={say.shelf.aboutThisPhoto} onClose={() => readAbout(undefined)}>
          <About photo={read} onOpen={(version) => (readAbout(undefined), openVersion(version))} />
        </Sheet>
      )}
    </View>
  );
}

/** Whoever types is not done with each letter. */
const TYPING_MS = 200;
/** What stands under each photo, and the room between rows. */
const EDGE = 44;
const BETWEEN = 10;

/** Where rows begin in the list, and where the last one ends. */
function offsetsOf(rows: readonly (readonly { readonly height: number }[])[]): number[] {
  const offsets = [0];
  rows.forEach((row, i) => offsets.push((offsets[i] ?? 0) + (row[0]?.height ?? 0) + EDGE + BETWEEN));
  return offsets;
}

const emptyWords = (bin: boolean, wanted: boolean): string =>
  wanted ? say.shelf.noPhotosMatchClearTheSearch : bin ? say.shelf.theBinIsEmpty : say.shelf.theShelfIsEmptyImportPhotos;

/** What the field for files offers. */
const READ = ['image/jpeg,image/png,image/tiff,image/webp,image/avif,image/heic,image/heif', ...photoEndings.map((ending) => `.${ending}`)].join(',');

const styles = StyleSheet.create({
  screen: { flex: 1, backgroundColor: colour.well },
  head: { flexDirection: 'row', alignItems: 'center', gap: 12, paddingHorizontal: 12, paddingTop: 10 },
  title: { ...type.title, fontSize: 24 },
  search: { flex: 1, minWidth: 0, maxWidth: 420, backgroundColor: colour.desk },
  fixed: { flexGrow: 0 },
  list: { flex: 1 },
  line: { flexDirection: 'row', gap: 8, alignItems: 'center', paddingHorizontal: 12, paddingVertical: 8, flexGrow: 1 },
  beside: { flex: 1, flexDirection: 'row', minHeight: 0 },
  above: { flexGrow: 0, maxHeight: '40%' },
  aboveInside: { paddingHorizontal: 12 },
  sheet: { paddingHorizontal: 12, width: '100%', maxWidth: 1400, alignSelf: 'center' },
  row: { flexDirection: 'row', gap: 8, paddingBottom: 10 },
  empty: { paddingVertical: 40, alignItems: 'center', textAlign: 'center', gap: 12 },
  undo: {
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'space-between',
    gap: 8,
    padding: 8,
    paddingLeft: 14,
    backgroundColor: colour.raised,
  },
  undoText: { flex: 1 },
});
