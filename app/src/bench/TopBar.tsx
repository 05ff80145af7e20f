import type { ReactNode } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import Keyboard from 'lucide-react-native/icons/keyboard';
import ListIcon from 'lucide-react-native/icons/list';
import Redo from 'lucide-react-native/icons/redo-2';
import Share from 'lucide-react-native/icons/file-output';
import Undo from 'lucide-react-native/icons/undo-2';
import { IconButton } from '../controls/Button';
import { Recede } from '../controls/held';
import { redo, undo, useBench, type KeepState } from '../state/bench';
import { canRedo, canUndo } from '../state/history';
import { useReach } from '../state/news';
import { colour, type } from '../theme/tokens';
import { say } from '../words';

const KEPT: Record<KeepState, string> = {
  kept: say.bench.kept,
  keeping: say.bench.keeping,
  waiting: say.bench.keptHereServerAway,
  refused: say.bench.notKept,
};

export type Panel = 'versions' | 'steps' | 'export' | 'keys' | undefined;

/** Back, what is on the bench and whether it is kept, the tools where there is room for them, undo, redo, steps, export. */
export function TopBar({ tools, onBack, onPanel }: { tools?: ReactNode; onBack: () => void; onPanel: (panel: Panel) => void }) {
  const { photo, versionName, history, keep } = useBench(
    useShallow(({ photo, versionName, history, keep }) => ({ photo, versionName, history, keep })),
  );
  // What is to be said of the work goes before the version's name.
  const quiet = keep === 'kept' || keep === 'keeping';
  const away = useReach(({ reach }) => reach === 'away');
  const last = history.steps[history.cursor]?.words ?? '';
  const next = history.steps[history.cursor + 1]?.words ?? '';
  return (
    <Recede style={styles.bar}>
      <IconButton icon={ChevronLeft} label={say.bench.backToTheShelf} onPress={onBack} />
      <Pressable role="button" onPress={() => onPanel('versions')} style={styles.name}>
        <Text style={type.title} numberOfLines={1}>
          {photo?.name ?? ' '}
        </Text>
        <View style={styles.state}>
          {quiet && (
            <Text style={[type.small, styles.version]} numberOfLines={1}>
              {versionName}
              {'  '}
            </Text>
          )}
          <View style={[styles.lamp, keep === 'kept' ? styles.kept : styles.unkept]} />
          <Text
            role="status"
            style={[type.small, quiet && styles.status, keep !== 'kept' && keep !== 'keeping' && { color: colour.fault }]}
            numberOfLines={1}
          >
            {quiet && away ? say.bench.keptServerAway : KEPT[keep]}
          </Text>
        </View>
      </Pressable>
      {tools}
      <IconButton icon={Undo} label={canUndo(history) ? say.bench.undoLast(last) : say.bench.undo} off={!canUndo(history)} onPress={undo} />
      <IconButton icon={Redo} label={canRedo(history) ? say.bench.redoNext(next) : say.bench.redo} off={!canRedo(history)} onPress={redo} />
      {tools !== undefined && tools !== false && <IconButton icon={Keyboard} label={say.bench.keys} onPress={() => onPanel('keys')} />}
      <IconButton icon={ListIcon} label={say.bench.steps} onPress={() => onPanel('steps')} />
      <IconButton icon={Share} label={say.bench.export} onPress={() => onPanel('export')} />
    </Recede>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', minHeight: 52, paddingHorizontal: 2, backgroundColor: colour.desk },
  name: { flex: 1, minHeight: 44, justifyContent: 'center', minWidth: 0 },
  state: { flexDirection: 'row', alignItems: 'center', gap: 5, minWidth: 0 },
  version: { flexShrink: 1, minWidth: 0 },
  status: { flexShrink: 0 },
  lamp: { width: 7, height: 7, borderRadius: 4 },
  kept: { backgroundColor: '#8d8d8d' },
  unkept: { backgroundColor: colour.signal },
});
