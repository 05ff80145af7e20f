import { useEffect, useState } from 'react';
import { Image, ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { router } from 'expo-router';
import Printer from 'lucide-react-native/icons/printer';
import X from 'lucide-react-native/icons/x';
import { pictureSize } from '@bexlen/core';
import { pages } from '@bexlen/api';
import { Button, Choice, IconButton } from '../controls/Button';
import { Sheet } from '../controls/Sheet';
import { Entry } from '../controls/Entry';
import { Switch } from '../controls/Switch';
import { sentenceOf, server } from '../state/server';
import { colour, type, WIDE } from '../theme/tokens';
import { putVariantsAway, useVariants, type Cell } from './variants';
import { say } from '../words';

/** Photos with looks or values of a control side by side, as a sheet: on the screen, and printed. */
export function Variants() {
  const { cells } = useVariants();
  return cells.length > 0 ? <Open key={cells.length} /> : null;
}

function Open() {
  const { title, cells } = useVariants();
  const { width } = useWindowDimensions();
  const [columns, setColumns] = useState(width >= WIDE ? '4' : '2');
  const [printing, setPrinting] = useState(false);
  const pictures = usePictures(cells);
  const made = pictures.filter(Boolean).length;
  const room = (width - 24 - (Number(columns) - 1) * 8) / Number(columns);
  useEffect(() => {
    const key = (event: KeyboardEvent): void => void (event.key === 'Escape' && putVariantsAway());
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, []);
  return (
    <View role="dialog" aria-label={title} style={styles.cover}>
      <View style={styles.head}>
        <Text role="heading" aria-level={1} style={[type.title, styles.grow]} numberOfLines={1}>
          {title}
        </Text>
        {made < cells.length && (
          <Text role="status" style={type.figure}>
            {made} / {cells.length}
          </Text>
        )}
        <IconButton icon={X} label={say.looks.putTheSheetAway} onPress={putVariantsAway} />
      </View>
      <ScrollView contentContainerStyle={styles.grid}>
        {cells.map((cell, i) => {
          const size = pictureSize(cell.stack.geometry, cell.photo);
          return (
            <View key={i} role="group" aria-label={`${cell.name}, ${cell.line}`} style={{ width: room }}>
              <View style={[styles.frame, { height: Math.min(room * 1.3, (room * size.height) / size.width) }]}>
                {pictures[i] && (
                  <Image source={{ uri: pictures[i] }} style={styles.picture} resizeMode="contain" aria-label={`${cell.name}, ${cell.line}`} />
                )}
              </View>
              <Text style={type.label} numberOfLines={1}>
                {cell.name}
              </Text>
              <Text style={type.small} numberOfLines={1}>
                {cell.line}
              </Text>
            </View>
          );
        })}
      </ScrollView>
      <View style={styles.foot}>
        <View style={styles.grow}>
          <Choice label={say.looks.columns} options={COLUMNS} value={columns} onChoose={setColumns} />
        </View>
        <Button strong icon={Printer} label={say.looks.contactSheet} onPress={() => setPrinting(true)} />
      </View>
      {printing && <Print columns={Number(columns)} onClose={() => setPrinting(false)} />}
    </View>
  );
}

const COLUMNS = ['1', '2', '3', '4', '6'].map((id) => ({ id, label: id }));
const WAYS = [
  { id: 'upright', label: say.looks.upright },
  { id: 'across', label: say.looks.across },
] as const;

/** A sheet on paper: its title and page; it is made among the exports. */
function Print({ columns, onClose }: { columns: number; onClose: () => void }) {
  const { title: given, cells } = useVariants();
  const [title, setTitle] = useState(given);
  const [page, setPage] = useState<(typeof pages)[number]['id']>('a4');
  const [way, setWay] = useState<(typeof WAYS)[number]['id']>('upright');
  const [marks, setMarks] = useState(true);
  const [fault, setFault] = useState('');
  const make = async (): Promise<void> => {
    try {
      await server.addSheet({
        title: title.trim(),
        page,
        upright: way === 'upright',
        columns,
        marks,
        cells: cells.map(({ photo, stack, name, line }) => ({ photoId: photo.id, stack, name, line })),
      });
      putVariantsAway();
      router.push('/exports');
    } catch (error) {
      setFault(sentenceOf(error, say.looks.theSheetCouldNotBeBegun));
    }
  };
  return (
    <Sheet title={say.looks.contactSheet} onClose={onClose}>
      <Entry label={say.looks.titleOfTheSheet} value={title} onChange={setTitle} />
      <Choice label={say.looks.page} options={pages} value={page} onChoose={setPage} />
      <Choice label={say.looks.wayOfThePage} options={WAYS} value={way} onChoose={setWay} />
      <View style={styles.line}>
        <Text style={[type.label, styles.grow]}>{say.looks.marksToCutAlong}</Text>
        <Switch label={say.looks.marksToCutAlong} on={marks} onToggle={() => setMarks(!marks)} />
      </View>
      <Text style={type.small}>{say.looks.countPicturesColumnsBesideEachOther(cells.length, columns)}</Text>
      {fault !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      )}
      <Button strong label={say.looks.makeTheSheet} off={title.trim() === ''} onPress={() => void make()} />
    </Sheet>
  );
}

/** Pictures of cells, made by the server one after another. */
function usePictures(cells: readonly Cell[]): readonly (string | undefined)[] {
  const [urls, setUrls] = useState<readonly (string | undefined)[]>([]);
  useEffect(() => {
    const gone = new AbortController();
    const made: string[] = [];
    void (async () => {
      for (const [i, { photo, stack }] of cells.entries()) {
        const url = await server.picture(photo.id, stack, gone.signal).catch(() => undefined);
        if (gone.signal.aborted) return;
        if (url) made.push(url);
        setUrls((old) => Object.assign([...old], { [i]: url }));
      }
    })();
    return () => {
      gone.abort();
      made.forEach((url) => URL.revokeObjectURL(url));
    };
  }, [cells]);
  return urls;
}

const styles = StyleSheet.create({
  cover: { ...StyleSheet.absoluteFill, backgroundColor: colour.well, zIndex: 5 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 56, paddingLeft: 14, paddingRight: 4 },
  line: { flexDirection: 'row', alignItems: 'center' },
  grow: { flex: 1, minWidth: 0 },
  grid: { flexDirection: 'row', flexWrap: 'wrap', paddingHorizontal: 12, gap: 8, rowGap: 14 },
  frame: { width: '100%', backgroundColor: colour.groove },
  picture: { width: '100%', height: '100%' },
  foot: { flexDirection: 'row', alignItems: 'center', gap: 8, padding: 10, backgroundColor: colour.desk },
});
