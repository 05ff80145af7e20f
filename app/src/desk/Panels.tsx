import { useEffect, useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import Columns from 'lucide-react-native/icons/columns-2';
import { fitted, pictureSize } from '@bexlen/core';
import type { Photo } from '@bexlen/server/api';
import { Button, Choice, IconButton } from '../controls/Button';
import { Fader } from '../controls/Fader';
import { Figure } from '../controls/Figure';
import { Sheet } from '../controls/Sheet';
import { VersionLine } from '../controls/VersionLine';
import { goTo, inForce, notify, refreshed, renamed, useBench } from '../state/bench';
import { sentenceOf, server } from '../state/server';
import { unsentStrokes } from '../state/strokes';
import { layersOf } from '../state/words';
import { colour, radius, type } from '../theme/tokens';
import { besides } from '../viewer/beside';
import type { Panel } from './TopBar';

interface Props {
  readonly panel: Panel;
  readonly onClose: () => void;
  readonly onVersion: (id: string) => void;
  readonly onExports: () => void;
}

/** What the top bar opens: versions, steps, export. */
export function Panels({ panel, onClose, onVersion, onExports }: Props) {
  if (!panel) return null;
  const title = { versions: 'Versions', steps: 'Steps', export: 'Export' }[panel];
  return (
    <Sheet title={title} onClose={onClose}>
      {panel === 'versions' && <Versions onVersion={onVersion} onClose={onClose} />}
      {panel === 'steps' && <Steps />}
      {panel === 'export' && <ExportForm onExports={onExports} />}
    </Sheet>
  );
}

function Versions({ onVersion, onClose }: { onVersion: (id: string) => void; onClose: () => void }) {
  const { photo, versionId, versionName, history } = useBench();
  const trying = async (act: () => Promise<void>, otherwise: string): Promise<void> => {
    try {
      await act();
    } catch (error) {
      notify(sentenceOf(error, otherwise));
    }
  };
  const copy = (to: Photo): Promise<void> =>
    trying(async () => {
      const name = `Version ${to.versions.length + 1}`;
      onVersion(
        (await server.addVersion(to.id, { name, steps: [...history.steps], cursor: history.cursor, strokes: unsentStrokes(history.steps) })).id,
      );
    }, 'The version could not be copied.');
  const rename = (id: string, name: string): Promise<void> =>
    trying(async () => renamed(await server.renameVersion(id, name)), 'The version could not be renamed.');
  const beside = (id: string, name: string): Promise<void> =>
    trying(async () => {
      const { steps, cursor } = await server.version(id);
      const other = steps[cursor]?.stack;
      const now = inForce(history);
      if (!other) return;
      onClose();
      besides([
        { name: versionName, stack: now },
        { name, stack: { ...other, geometry: now.geometry } },
      ]);
    }, 'The version could not be fetched.');
  const photoId = photo?.id;
  // They may have changed since the photo was laid out, here or elsewhere.
  useEffect(() => void (photoId && server.photo(photoId).then(refreshed, () => undefined)), [photoId]);
  if (!photo) return null;
  return (
    <>
      {photo.versions.map((version) => (
        <View key={version.id} style={[styles.item, version.id === versionId && styles.current]}>
          <VersionLine
            version={version}
            note={version.id === versionId ? 'on the bench' : layersOf(version)}
            current={version.id === versionId}
            onOpen={() => onVersion(version.id)}
            onRename={(name) => void rename(version.id, name)}
          />
          {version.id !== versionId && (
            <IconButton icon={Columns} label={`Compare with ${version.name}`} onPress={() => void beside(version.id, version.name)} />
          )}
        </View>
      ))}
      <Button label="Go on in a copy" onPress={() => void copy(photo)} />
    </>
  );
}

function Steps() {
  const history = useBench((state) => state.history);
  return (
    <>
      {history.steps.map(({ words }, i) => (
        <Pressable
          key={i}
          role="button"
          aria-label={`Go to: ${words}`}
          aria-current={i === history.cursor ? 'step' : undefined}
          onPress={() => goTo(i)}
          style={[styles.item, i === history.cursor && styles.current]}
        >
          <Text style={[type.label, i > history.cursor && { color: colour.quiet }]}>{words}</Text>
        </Pressable>
      ))}
    </>
  );
}

const FORMATS = [
  { id: 'jpeg', label: 'JPEG' },
  { id: 'png8', label: 'PNG 8 bit' },
  { id: 'png16', label: 'PNG 16 bit' },
] as const;
/** Long edges of smaller files. */
const SIZES = [
  { id: 'full', label: 'Full size' },
  { id: '3000', label: '3000 px' },
  { id: '2048', label: '2048 px' },
  { id: '1080', label: '1080 px' },
] as const;
const quality = { type: 'number', label: 'Quality', unit: 'plain', min: 1, max: 100, step: 1, at: 92 } as const;

function ExportForm({ onExports }: { onExports: () => void }) {
  const { photo, versionId, keep } = useBench();
  const [format, setFormat] = useState<(typeof FORMATS)[number]['id']>('jpeg');
  const [q, setQ] = useState(92);
  const [size, setSize] = useState<(typeof SIZES)[number]['id']>('full');
  const geometry = useBench((state) => state.stack().geometry);
  const full = photo && pictureSize(geometry, photo);
  const edge = size === 'full' ? {} : { edge: Number(size) };
  const made = full && (size === 'full' ? full : fitted(full, Number(size)));
  const [fault, setFault] = useState('');
  const begin = async (): Promise<void> => {
    try {
      await server.addExport(
        format === 'jpeg'
          ? { versionId, format: 'jpeg', quality: Math.round(q), ...edge }
          : { versionId, format: 'png', depth: format === 'png16' ? 16 : 8, ...edge },
      );
      onExports();
    } catch (error) {
      setFault(sentenceOf(error, 'The export could not be started.'));
    }
  };
  const waiting = keep !== 'kept';
  return (
    <>
      <Choice label="Format" options={FORMATS} value={format} onChoose={setFormat} />
      {format === 'jpeg' && (
        <View style={styles.row}>
          <Text style={type.label}>Quality</Text>
          <View style={styles.grow}>
            <Fader
              id="quality"
              label="Quality"
              param={quality}
              value={q}
              edge={1}
              family="group"
              onShow={(v) => setQ(Math.round(v))}
              onKeep={(v) => setQ(Math.round(v))}
            />
          </View>
          <Figure label="Quality" param={quality} value={q} edge={1} onKeep={(v) => setQ(Math.round(v))} />
        </View>
      )}
      <Choice label="Size" options={SIZES} value={size} onChoose={setSize} />
      <Text style={type.small}>
        {made ? `${made.width} x ${made.height} pixels, with an sRGB profile.` : ''}
        {waiting ? ' Waits until your last change is kept.' : ''}
      </Text>
      {fault !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      )}
      <Button label="Make the file" strong off={waiting} onPress={() => void begin()} />
    </>
  );
}

const styles = StyleSheet.create({
  item: {
    minHeight: 46,
    paddingHorizontal: 12,
    paddingVertical: 4,
    borderRadius: radius.m,
    backgroundColor: colour.raised,
    justifyContent: 'space-between',
    alignItems: 'center',
    flexDirection: 'row',
    gap: 8,
  },
  current: { borderLeftWidth: 4, borderLeftColor: colour.signal },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  grow: { flex: 1, flexDirection: 'row' },
});
