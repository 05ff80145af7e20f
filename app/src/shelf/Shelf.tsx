import { useEffect, useRef, useState } from 'react';
import { ScrollView, StyleSheet, Text, TextInput, useWindowDimensions, View } from 'react-native';
import { router } from 'expo-router';
import Brush from 'lucide-react-native/icons/book-open';
import Trash from 'lucide-react-native/icons/trash';
import Plus from 'lucide-react-native/icons/plus';
import type { Photo, VersionSummary } from '@bexlen/server/api';
import { Button, Choice } from '../controls/Button';
import { Places } from '../controls/Places';
import { Sheet } from '../controls/Sheet';
import { colour, radius, touch, type, WIDE, web } from '../theme/tokens';
import { About, AboutPane } from './About';
import { FrameOf } from './FrameOf';
import { rowsOf } from './rows';
import { binPhotos, importFiles, removePhotos, openShelf, readAbout, takeLookBack, useShelf } from './shelf';
import { Uploads } from './Uploads';

const SORTS = [
  { id: 'new', label: 'Newest' },
  { id: 'name', label: 'Name' },
] as const;
type Sort = (typeof SORTS)[number]['id'];

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
  const { photos, state, message, binned, needed, put, about } = useShelf();
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const [search, setSearch] = useState('');
  const [sort, setSort] = useState<Sort>('new');
  const [bin, setBin] = useState(false);
  const [selected, setSelected] = useState<ReadonlySet<string>>();
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => void openShelf(), []);
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
  const wanted = search.trim().toLowerCase();
  const found = photos
    .filter((photo) => photo.binned === bin && `${photo.name} ${photo.caption}`.toLowerCase().includes(wanted))
    .sort((a, b) => (sort === 'name' ? a.name.localeCompare(b.name) : b.importedAt.localeCompare(a.importedAt)));
  const read = found.find(({ id }) => id === about) ?? (wide ? found[0] : undefined);
  const sheet = Math.min(width - (wide && read ? PANE : 0), 1400) - 24;
  const rows = rowsOf(found.map(shownAs), sheet, wide ? 240 : 132);
  return (
    <View style={styles.screen}>
      <View style={styles.head}>
        <Text role="heading" aria-level={1} style={styles.title}>
          {bin ? 'Bin' : 'Shelf'}
        </Text>
        <TextInput
          value={search}
          onChangeText={setSearch}
          placeholder="Search names and captions"
          placeholderTextColor={colour.quiet}
          aria-label="Search names and captions"
          style={[type.label, styles.search]}
        />
      </View>
      <View style={styles.line}>
        <Choice label="Order" options={SORTS} value={sort} onChoose={setSort} />
        <View style={styles.acts}>
          <Button label={selected ? 'Done' : 'Select'} onPress={() => setSelected(selected ? undefined : new Set())} />
          <Button label={bin ? 'Back to the shelf' : 'Bin'} onPress={() => (setBin(!bin), setSelected(undefined))} />
        </View>
      </View>
      <View style={styles.beside}>
        <ScrollView contentContainerStyle={styles.sheet}>
          <Uploads />
          {message !== '' && (
            <View role="alert" style={styles.empty}>
              <Text style={type.body}>{message}</Text>
              <Button label="Try again" onPress={() => void openShelf()} />
            </View>
          )}
          {state === 'ready' && found.length === 0 && <Text style={[type.body, styles.empty]}>{emptyWords(bin, wanted)}</Text>}
          {rows.map((row, r) => (
            <View key={r} style={styles.row}>
              {row.map(({ it: { photo }, width: w, height: h }) => (
                <FrameOf
                  key={photo.id}
                  photo={photo}
                  number={photos.length - photos.indexOf(photo)}
                  width={w}
                  height={h}
                  selected={selected?.has(photo.id)}
                  onPress={() => press(photo)}
                  read={wide && photo.id === read?.id}
                  onHold={() => toggle(photo)}
                  onAbout={() => readAbout(photo.id)}
                />
              ))}
            </View>
          ))}
        </ScrollView>
        {wide && read && <AboutPane photo={read} onOpen={openVersion} />}
      </View>
      {needed.length > 0 && (
        <View style={styles.undo}>
          <Text style={[type.label, styles.undoText]}>{message}</Text>
          <Button label="Keep" onPress={() => useShelf.setState({ needed: [], message: '' })} />
          <Button label="Delete all the same" onPress={() => void removePhotos(needed, true)} />
        </View>
      )}
      {binned.length > 0 && (
        <View style={styles.undo}>
          <Text style={[type.label, styles.undoText]}>
            {binned.length === 1 ? `${binned[0]?.name} is in the bin.` : `${binned.length} photos are in the bin.`}
          </Text>
          <Button label="Undo" onPress={() => void binPhotos(binned, false)} />
        </View>
      )}
      {put && (
        <View style={styles.undo}>
          <Text style={[type.label, styles.undoText]}>
            “{put.name}” is on {put.ids.length === 1 ? 'one photo' : `${put.ids.length} photos`}, as a new version.
          </Text>
          <Button label="Keep" onPress={() => useShelf.setState({ put: undefined })} />
          <Button label="Undo" onPress={() => void takeLookBack(put.ids)} />
        </View>
      )}
      <Places here="shelf">
        {selected && selected.size > 0 ? (
          <>
            {!bin && (
              <Button
                icon={Brush}
                label={`Look for ${selected.size}`}
                onPress={() => router.push({ pathname: '/looks', params: { photos: [...selected].join(',') } })}
              />
            )}
            <Button
              icon={Trash}
              label={bin ? `Take ${selected.size} back` : `Put ${selected.size} into the bin`}
              onPress={() => void moveSelected()}
            />
            {bin && (
              <Button
                label={`Delete ${selected.size} for good`}
                onPress={() => {
                  void removePhotos(photos.filter(({ id }) => selected.has(id)));
                  setSelected(undefined);
                }}
              />
            )}
          </>
        ) : (
          <Button strong icon={Plus} label="Import photos" onPress={() => field.current?.click()} />
        )}
      </Places>
      <input
        ref={field}
        type="file"
        multiple
        accept="image/jpeg,image/png,image/tiff,image/webp,image/avif"
        aria-label="Photos to import"
        tabIndex={-1}
        style={{ display: 'none' }}
        onChange={({ target }) => {
          importFiles([...(target.files ?? [])]);
          target.value = '';
        }}
      />
      {!wide && read && (
        <Sheet title="About this photo" onClose={() => readAbout(undefined)}>
          <About photo={read} onOpen={(version) => (readAbout(undefined), openVersion(version))} />
        </Sheet>
      )}
    </View>
  );
}

const emptyWords = (bin: boolean, wanted: string): string =>
  wanted
    ? 'Nothing is called that. Clear the search to see all.'
    : bin
      ? 'The bin is empty.'
      : 'The shelf is empty. Import photos, drop them here, or paste them.';

/** Photos dropped on the page or pasted into it. */
function useFilesFromOutside(): void {
  useEffect(() => {
    const over = (event: DragEvent): void => event.preventDefault();
    const take = (event: Event, data: DataTransfer | null): void => {
      const files = [...(data?.files ?? [])];
      if (files.length === 0) return;
      event.preventDefault();
      importFiles(files);
    };
    const drop = (event: DragEvent): void => take(event, event.dataTransfer);
    const paste = (event: ClipboardEvent): void => take(event, event.clipboardData);
    window.addEventListener('dragover', over);
    window.addEventListener('drop', drop);
    window.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('dragover', over);
      window.removeEventListener('drop', drop);
      window.removeEventListener('paste', paste);
    };
  }, []);
}

const styles = StyleSheet.create({
  screen: { flex: 1, backgroundColor: colour.well },
  head: { flexDirection: 'row', alignItems: 'center', gap: 12, paddingHorizontal: 12, paddingTop: 10 },
  title: { ...type.title, fontSize: 24 },
  search: {
    flex: 1,
    maxWidth: 420,
    height: touch,
    paddingHorizontal: 12,
    backgroundColor: colour.desk,
    borderRadius: radius.m,
    ...web({ outlineStyle: 'none' }),
  },
  line: { flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center', paddingHorizontal: 12, paddingVertical: 8 },
  beside: { flex: 1, flexDirection: 'row', minHeight: 0 },
  sheet: { paddingHorizontal: 12, paddingBottom: 16, gap: 10, width: '100%', maxWidth: 1400, alignSelf: 'center' },
  row: { flexDirection: 'row', gap: 8 },
  acts: { flexDirection: 'row', gap: 8 },
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
