import { useEffect } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import Columns from 'lucide-react-native/icons/columns-2';
import Lesson from 'lucide-react-native/icons/graduation-cap';
import { LONGEST_NAME, type Photo } from '@bexlen/api';
import { Button, IconButton } from '../controls/Button';
import { Sheet } from '../controls/Sheet';
import { VersionLine } from '../controls/VersionLine';
import { goTo, inForce, notify, refreshed, renamed, useBench } from '../state/bench';
import { sentenceOf, server } from '../state/server';
import { unsentStrokes } from '../state/strokes';
import { layersOf } from '../state/words';
import { colour, radius, type } from '../theme/tokens';
import { BenchExport } from '../exports/BenchExport';
import { buildOn } from '../lessons/lesson';
import { besides } from '../viewer/beside';
import { KeysPanel } from './KeysPanel';
import type { Panel } from './TopBar';
import { say, told } from '../words';

interface Props {
  readonly panel: Panel;
  readonly onClose: () => void;
  readonly onVersion: (id: string) => void;
  readonly onExports: () => void;
}

/** What the top bar opens: versions, steps, export. */
export function Panels({ panel, onClose, onVersion, onExports }: Props) {
  if (!panel) return null;
  const title = { versions: say.bench.versions, steps: say.bench.steps, export: say.bench.export, keys: say.bench.keys }[panel];
  return (
    <Sheet title={title} onClose={onClose}>
      {panel === 'versions' && <Versions onVersion={onVersion} onClose={onClose} />}
      {panel === 'steps' && <Steps />}
      {panel === 'keys' && <KeysPanel />}
      {panel === 'export' && <BenchExport onExports={onExports} />}
    </Sheet>
  );
}

function Versions({ onVersion, onClose }: { onVersion: (id: string) => void; onClose: () => void }) {
  const { photo, versionId, versionName, history } = useBench(
    useShallow(({ photo, versionId, versionName, history }) => ({ photo, versionId, versionName, history })),
  );
  const trying = async (act: () => Promise<void>, otherwise: string): Promise<void> => {
    try {
      await act();
    } catch (error) {
      notify(sentenceOf(error, otherwise));
    }
  };
  const copy = (to: Photo): Promise<void> =>
    trying(async () => {
      const name = say.bench.versionCount(to.versions.length + 1);
      onVersion(
        (await server.addVersion(to.id, { name, steps: [...history.steps], cursor: history.cursor, strokes: unsentStrokes(history.steps) })).id,
      );
    }, say.bench.theVersionCouldNotBeCopied);
  const rename = (id: string, name: string): Promise<void> =>
    trying(async () => renamed(await server.renameVersion(id, name)), say.bench.theVersionCouldNotBeRenamed);
  /** What makes a version, built anew on a version of its own, step by step. */
  const build = (to: Photo, id: string, name: string): Promise<void> =>
    trying(async () => {
      const { steps, cursor } = id === versionId ? history : await server.version(id);
      const stack = steps[cursor]?.stack;
      if (!stack) return;
      const begun = { stack: { ...stack, layers: [] }, words: say.bench.asItCame };
      const made = await server.addVersion(to.id, {
        name: say.bench.nameStepByStep(name).slice(0, LONGEST_NAME),
        steps: [begun],
        cursor: 0,
        strokes: [],
      });
      buildOn(made.id, { name, stack });
      onVersion(made.id);
    }, say.bench.theVersionCouldNotBeCopied);
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
    }, say.bench.theVersionCouldNotBeFetched);
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
            note={version.id === versionId ? say.bench.onTheBench : layersOf(version)}
            current={version.id === versionId}
            onOpen={() => onVersion(version.id)}
            onRename={(name) => void rename(version.id, name)}
          />
          {version.layers > 0 && (
            <IconButton
              icon={Lesson}
              label={say.bench.buildNameStepByStep(version.name)}
              onPress={() => void build(photo, version.id, version.name)}
            />
          )}
          {version.id !== versionId && (
            <IconButton icon={Columns} label={say.bench.compareWithName(version.name)} onPress={() => void beside(version.id, version.name)} />
          )}
        </View>
      ))}
      <Button label={say.bench.duplicateVersion} onPress={() => void copy(photo)} />
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
          aria-label={say.bench.goToWords(told(words))}
          aria-current={i === history.cursor ? 'step' : undefined}
          onPress={() => goTo(i)}
          style={[styles.item, i === history.cursor && styles.current]}
        >
          <Text style={[type.label, i > history.cursor && { color: colour.quiet }]}>{told(words)}</Text>
        </Pressable>
      ))}
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
});
