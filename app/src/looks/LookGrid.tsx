import { useMemo, useState, type ReactNode } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import Star from 'lucide-react-native/icons/star';
import { allLayers, fitNotes, needsOf, type Facts, type Stack } from '@bexlen/core';
import { Button } from '../controls/Button';
import { SmallPicture, type Pictures } from '../controls/Picture';
import { Search } from '../controls/Search';
import { useSmalls } from '../engine/small';
import { useFacts } from '../engine/facts';
import { colour, radius, touch, type } from '../theme/tokens';
import { changeLook, FAVOURITES, foldersOf, found, openBook, takeBack, useBook, type Shown } from './book';
import { say, told } from '../words';

interface Props {
  /** Ids of the looks that are chosen. */
  readonly chosen: readonly string[];
  readonly onChoose: (look: Shown) => void;
  /** What is seen with a look on it. */
  readonly withLook: (look: Shown) => Stack;
  /** Says when that has changed. */
  readonly changed: unknown;
  /** There is little room: what is not needed just now makes way. */
  readonly narrow?: boolean;
  /** There is little height: the search stands beside the folders, and pictures are small. */
  readonly low?: boolean;
  /** Stands at the end of the folders. */
  readonly beside?: ReactNode;
  readonly children?: ReactNode;
}

/** All looks as live pictures of the photo that is open, by folders; a tap chooses one. */
export function LookGrid({ chosen, onChoose, withLook, changed, narrow = false, low = false, beside, children }: Props) {
  const { looks, state, message, removed } = useBook();
  const [folder, setFolder] = useState<string>();
  const [search, setSearch] = useState('');
  const shown = useMemo(() => found(looks, folder, search), [looks, folder, search]);
  const key = useMemo(() => ({ changed, shown }), [changed, shown]);
  const pictures = useSmalls(key, (i) => shown[i] && withLook(shown[i]));
  const facts = useFacts();
  const folders = [...(looks.some(({ favourite }) => favourite) ? [FAVOURITES] : []), ...foldersOf(looks)];
  return (
    <>
      <View style={[styles.head, low && styles.headLow]}>
        {!(narrow && chosen.length > 0 && search === '') && (
          <View style={low && styles.searchLow}>
            <Search label={say.looks.searchLooks} value={search} onChange={setSearch} />
          </View>
        )}
        <ScrollView horizontal showsHorizontalScrollIndicator={false}>
          <View role="radiogroup" aria-label={say.looks.folder} style={styles.folders}>
            {folders.map((name) => (
              <Pressable
                key={name}
                role="radio"
                aria-checked={folder === name}
                aria-label={folderWords(name)}
                onPress={() => setFolder(folder === name ? undefined : name)}
                style={[styles.folder, folder === name && styles.folderOn]}
              >
                <Text style={type.label}>{folderWords(name)}</Text>
              </Pressable>
            ))}
          </View>
        </ScrollView>
        {beside}
      </View>
      <ScrollView contentContainerStyle={[styles.grid, low && styles.gridLow]}>
        {message !== '' && (
          <View style={styles.message}>
            <Text role="alert" style={[type.body, styles.grow]}>
              {message}
            </Text>
            {state === 'failed' && <Button label={say.looks.tryAgain} onPress={() => void openBook()} />}
          </View>
        )}
        {removed && (
          <View role="status" style={styles.message}>
            <Text style={[type.label, styles.grow]}>{say.looks.nameIsThrownAway(removed.look.name)}</Text>
            <Button label={say.looks.keepItSo} onPress={() => useBook.setState({ removed: undefined })} />
            <Button label={say.looks.undo} says={say.looks.undoTakeNameBack(removed.look.name)} onPress={() => void takeBack(removed)} />
          </View>
        )}
        {shown.map((it, i) => (
          <Cell
            key={it.id}
            shown={it}
            facts={facts}
            pictures={pictures}
            at={i}
            place={chosen.indexOf(it.id)}
            several={chosen.length > 1}
            low={low}
            onPress={() => onChoose(it)}
          />
        ))}
        {state === 'ready' && shown.length === 0 && <Text style={[type.body, styles.none]}>{say.looks.noLookIsCalledThatClear}</Text>}
        {children}
      </ScrollView>
    </>
  );
}

const folderWords = (name: string): string => (name === FAVOURITES ? say.looks.favourites : told(name));

/** How many layers, what it asks of who puts it on, and what it finds missing in this photo. */
export function factsAbout({ look }: Shown, facts: Facts | undefined): { readonly plain: string; readonly warning: string | undefined } {
  const layers = allLayers(look.stack.layers).length;
  const needs = needsOf(look).map(told);
  const [warning] = facts ? fitNotes(look, facts).map(told) : [];
  return {
    plain: [
      layers === 1 ? say.looks.layer : say.looks.layersLayers(layers),
      ...(needs.length > 0 ? [say.looks.needsNeeds(needs.join(', '))] : []),
    ].join(' · '),
    warning,
  };
}

interface CellProps {
  readonly shown: Shown;
  readonly facts: Facts | undefined;
  readonly pictures: Pictures;
  readonly at: number;
  /** Its place among those that are chosen; -1 if it is not. */
  readonly place: number;
  readonly several: boolean;
  readonly low: boolean;
  readonly onPress: () => void;
}

function Cell({ shown, facts, pictures, at, place, several, low, onPress }: CellProps) {
  const { look, id, favourite } = shown;
  const about = factsAbout(shown, facts);
  return (
    <View style={[styles.cell, low && styles.cellLow, place >= 0 && styles.chosen]}>
      <Pressable
        role="button"
        aria-label={say.looks.lookNamePlainWarning(look.name, about.plain, about.warning ?? '').trim()}
        aria-pressed={place >= 0}
        onPress={onPress}
        style={({ pressed }) => pressed && styles.pressed}
      >
        <View style={[styles.picture, low && styles.pictureLow]}>
          <SmallPicture of={pictures} at={at} />
          {several && place >= 0 && (
            <View aria-hidden style={styles.place}>
              <Text style={[type.figure, { color: colour.onSignal }]}>{place + 1}</Text>
            </View>
          )}
        </View>
        <View style={[styles.words, low && styles.wordsLow]}>
          <Text style={type.label} numberOfLines={1}>
            {`${look.name} `}
          </Text>
          <Text style={type.small} numberOfLines={1}>
            {`${about.plain} `}
          </Text>
          {about.warning && (
            <Text style={[type.small, styles.warning]} numberOfLines={3}>
              {about.warning}
            </Text>
          )}
        </View>
      </Pressable>
      <Pressable
        role="button"
        aria-label={say.looks.nameAsAFavourite(look.name)}
        aria-pressed={favourite}
        onPress={() => void changeLook(id, { favourite: !favourite })}
        style={styles.star}
      >
        <Star size={17} strokeWidth={1.6} color={favourite ? colour.signal : colour.tape} fill={favourite ? colour.signal : 'rgba(0,0,0,0.35)'} />
      </Pressable>
    </View>
  );
}

const styles = StyleSheet.create({
  head: { paddingHorizontal: 12, gap: 6 },
  headLow: { flexDirection: 'row', alignItems: 'center' },
  searchLow: { width: 124 },
  folders: { flexDirection: 'row', gap: 4 },
  folder: { minHeight: touch, paddingHorizontal: 12, justifyContent: 'center', borderRadius: radius.m },
  folderOn: { backgroundColor: colour.raised, borderBottomWidth: 2, borderBottomColor: colour.signal },
  grid: { flexDirection: 'row', flexWrap: 'wrap', padding: 12, gap: 10 },
  gridLow: { paddingVertical: 6, gap: 8 },
  cellLow: { flexBasis: 104 },
  pictureLow: { height: 74 },
  wordsLow: { padding: 5, gap: 0 },
  cell: {
    flexGrow: 1,
    flexBasis: 150,
    maxWidth: 220,
    borderRadius: radius.m,
    overflow: 'hidden',
    backgroundColor: colour.raised,
    borderBottomWidth: 3,
    borderBottomColor: 'transparent',
  },
  chosen: { borderBottomColor: colour.signal },
  pressed: { opacity: 0.75 },
  picture: { height: 110, backgroundColor: colour.well },
  place: {
    position: 'absolute',
    left: 6,
    top: 6,
    minWidth: 26,
    height: 26,
    borderRadius: 13,
    alignItems: 'center',
    justifyContent: 'center',
    backgroundColor: colour.signal,
  },
  words: { padding: 8, gap: 2 },
  warning: { paddingLeft: 6, borderLeftWidth: 2, borderLeftColor: colour.signal },
  star: { position: 'absolute', right: 0, top: 0, width: touch, height: touch, alignItems: 'flex-end', padding: 7 },
  none: { padding: 8 },
  grow: { flex: 1 },
  message: { width: '100%', flexDirection: 'row', gap: 8, alignItems: 'center' },
});
