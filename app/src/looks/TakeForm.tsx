import { useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { isAsItCame, isFit, takeLook, type Layer } from '@bexlen/core';
import { Button } from '../controls/Button';
import { Entry, Tick } from '../controls/Entry';
import { deskRows } from '../edits/layers';
import { inForce, notify, useBench } from '../state/bench';
import { sentenceOf } from '../state/server';
import { colour, radius, type } from '../theme/tokens';
import { foldersOf, keepLook, useBook } from './book';
import { standBefore } from './stand';
import { say } from '../words';

/** All layers but what brought this photo to where another look was made: the look that is taken says that of itself. */
function withoutFit(layers: readonly Layer[]): string[] {
  const fitted = new Set(layers.filter(isFit).flatMap((group) => [group, ...(group.layers ?? [])].map(({ id }) => id)));
  return layers.flatMap(({ id }) => (fitted.has(id) ? [] : [id]));
}

/** Takes a look out of the version on the bench: which layers, with what of them, and where it is kept. */
export function TakeForm({ only, onKept }: { only?: string | undefined; onKept: () => void }) {
  const history = useBench((state) => state.history);
  const keep = useBench((state) => state.keep);
  const stack = inForce(history);
  const rows = deskRows(stack);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(() => new Set(only === undefined ? withoutFit(rows.map(({ layer }) => layer)) : [only]));
  const [masks, setMasks] = useState(true);
  const [geometry, setGeometry] = useState(false);
  const [strokes, setStrokes] = useState(false);
  const [name, setName] = useState('');
  const [folder, setFolder] = useState('');
  const [note, setNote] = useState('');
  const [fault, setFault] = useState('');
  const [busy, setBusy] = useState(false);
  const looks = useBook((book) => book.looks);
  const mine = foldersOf(looks.filter(({ own }) => own));
  const all = rows.every(({ layer }) => chosen.has(layer.id));
  const taken = takeLook(stack, { ...(!all && { layers: chosen }), masks, geometry, strokes });
  const toggle = (layer: Layer): void =>
    setChosen((old) => (old.has(layer.id) ? new Set([...old].filter((id) => id !== layer.id)) : new Set([...old, layer.id])));
  const take = async (): Promise<void> => {
    setBusy(true);
    try {
      const made = await standBefore(stack, chosen);
      const about = { name: name.trim(), folder: folder.trim() || say.looks.mine, ...(note.trim() && { note: note.trim() }), geometry, made };
      await keepLook(about, taken.stack);
      notify(say.looks.nameIsInTheLookbook(name.trim()));
      onKept();
    } catch (error) {
      setFault(sentenceOf(error, say.looks.theLookCouldNotBeKept));
    }
    setBusy(false);
  };
  const none = taken.stack.layers.length === 0 && !geometry;
  return (
    <>
      <ScrollView contentContainerStyle={styles.form}>
        <Entry label={say.looks.nameOfTheLook} value={name} onChange={setName} />
        <View style={styles.line}>
          <View style={styles.grow}>
            <Entry label={say.looks.folderOfTheLook} value={folder} onChange={setFolder} />
          </View>
          {mine.slice(0, 2).map((known) => (
            <Button key={known} label={known} says={say.looks.folderKnown(known)} onPress={() => setFolder(known)} />
          ))}
        </View>
        <Entry label={say.looks.noteOnTheLook} value={note} onChange={setNote} />
        <View role="group" aria-label={say.looks.layersOfTheLook} style={styles.list}>
          {rows.map(({ layer, depth }) => (
            <Tick key={layer.id} label={layer.name} on={chosen.has(layer.id)} indent={depth} onToggle={() => toggle(layer)} />
          ))}
          {rows.length === 0 && <Text style={type.small}>{say.looks.thereIsNoLayerOnThe}</Text>}
        </View>
        <View role="group" aria-label={say.looks.with} style={styles.list}>
          <Tick label={say.looks.withMasks} on={masks} onToggle={() => setMasks(!masks)} />
          <Tick label={say.looks.withWhatIsPainted} on={strokes} onToggle={() => setStrokes(!strokes)} />
          {!isAsItCame(stack.geometry) && <Tick label={say.looks.withCropAndTurn} on={geometry} onToggle={() => setGeometry(!geometry)} />}
        </View>
        {taken.left.map((sentence) => (
          <Text key={sentence} style={type.small}>
            {sentence}
          </Text>
        ))}
      </ScrollView>
      <View style={styles.foot}>
        {fault !== '' && (
          <Text role="alert" style={[type.body, { color: colour.fault }]}>
            {fault}
          </Text>
        )}
        {strokes && keep !== 'kept' && <Text style={type.small}>{say.looks.waitsUntilYourLastStrokeIs}</Text>}
        <Button
          strong
          label={say.looks.keepTheLook}
          off={busy || none || name.trim() === '' || (strokes && keep !== 'kept')}
          onPress={() => void take()}
        />
      </View>
    </>
  );
}

const styles = StyleSheet.create({
  form: { paddingHorizontal: 12, paddingVertical: 8, gap: 8 },
  line: { flexDirection: 'row', gap: 8 },
  grow: { flex: 1, minWidth: 0 },
  list: { borderRadius: radius.m, backgroundColor: colour.well, overflow: 'hidden' },
  foot: { padding: 8, gap: 6, borderTopWidth: 1, borderTopColor: colour.well },
});
