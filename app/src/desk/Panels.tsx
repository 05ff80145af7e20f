import { useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { Button, Choice, IconButton } from '../controls/Button';
import { Fader } from '../controls/Fader';
import { Figure } from '../controls/Figure';
import { goTo, notify, useBench } from '../state/bench';
import { Refusal, server } from '../state/server';
import { colour, radius, type } from '../theme/tokens';
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
    <View style={styles.cover}>
      <Pressable style={StyleSheet.absoluteFill} onPress={onClose} aria-label={`Close ${title}`} tabIndex={-1} />
      <View role="dialog" aria-label={title} style={styles.panel}>
        <View style={styles.head}>
          <Text style={type.title}>{title}</Text>
          <IconButton icon={X} label={`Close ${title}`} onPress={onClose} />
        </View>
        {panel === 'versions' && <Versions onVersion={onVersion} />}
        {panel === 'steps' && <Steps />}
        {panel === 'export' && <ExportForm onExports={onExports} />}
      </View>
    </View>
  );
}

function Versions({ onVersion }: { onVersion: (id: string) => void }) {
  const { photo, versionId, history } = useBench();
  const copy = async (): Promise<void> => {
    if (!photo) return;
    try {
      const name = `Version ${photo.versions.length + 1}`;
      onVersion((await server.addVersion(photo.id, { name, steps: [...history.steps], cursor: history.cursor })).id);
    } catch (error) {
      notify(error instanceof Refusal ? `${error.message} ${error.fault.hint}` : 'The version could not be copied.');
    }
  };
  return (
    <ScrollView contentContainerStyle={styles.list}>
      {photo?.versions.map((version) => (
        <Pressable
          key={version.id}
          role="button"
          aria-pressed={version.id === versionId}
          onPress={() => onVersion(version.id)}
          style={[styles.item, version.id === versionId && styles.current]}
        >
          <Text style={type.label}>{version.name}</Text>
          <Text style={type.small}>
            {version.id === versionId ? 'on the bench' : `${version.layers} ${version.layers === 1 ? 'layer' : 'layers'}`}
          </Text>
        </Pressable>
      ))}
      <Button label="Go on in a copy" onPress={() => void copy()} />
    </ScrollView>
  );
}

function Steps() {
  const history = useBench((state) => state.history);
  return (
    <ScrollView contentContainerStyle={styles.list}>
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
    </ScrollView>
  );
}

const FORMATS = [
  { id: 'jpeg', label: 'JPEG' },
  { id: 'png8', label: 'PNG 8 bit' },
  { id: 'png16', label: 'PNG 16 bit' },
] as const;
const quality = { type: 'number', label: 'Quality', unit: 'plain', min: 1, max: 100, step: 1, at: 92 } as const;

function ExportForm({ onExports }: { onExports: () => void }) {
  const { photo, versionId, keep } = useBench();
  const [format, setFormat] = useState<(typeof FORMATS)[number]['id']>('jpeg');
  const [q, setQ] = useState(92);
  const [fault, setFault] = useState('');
  const begin = async (): Promise<void> => {
    try {
      await server.addExport(
        format === 'jpeg' ? { versionId, format: 'jpeg', quality: Math.round(q) } : { versionId, format: 'png', depth: format === 'png16' ? 16 : 8 },
      );
      onExports();
    } catch (error) {
      setFault(error instanceof Refusal ? `${error.message} ${error.fault.hint}` : 'The export could not be started.');
    }
  };
  const waiting = keep !== 'kept';
  return (
    <View style={styles.list}>
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
      <Text style={type.small}>
        {photo ? `${photo.width} x ${photo.height} pixels, with an sRGB profile.` : ''}
        {waiting ? ' Waits until your last change is kept.' : ''}
      </Text>
      {fault !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      )}
      <Button label="Make the file" strong off={waiting} onPress={() => void begin()} />
    </View>
  );
}

const styles = StyleSheet.create({
  cover: { ...StyleSheet.absoluteFill, backgroundColor: 'rgba(0,0,0,0.45)', justifyContent: 'flex-end', alignItems: 'center' },
  panel: {
    width: '100%',
    maxWidth: 460,
    maxHeight: '75%',
    backgroundColor: colour.desk,
    borderTopLeftRadius: 12,
    borderTopRightRadius: 12,
    paddingBottom: 12,
  },
  head: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', paddingLeft: 16, paddingRight: 4, paddingTop: 4 },
  list: { paddingHorizontal: 16, paddingBottom: 8, gap: 8 },
  item: {
    minHeight: 46,
    paddingHorizontal: 12,
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
