import { Pressable, StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import Chart from 'lucide-react-native/icons/chart-area';
import Columns from 'lucide-react-native/icons/columns-2';
import Frame from 'lucide-react-native/icons/contrast';
import Compare from 'lucide-react-native/icons/eye';
import Steps from 'lucide-react-native/icons/rows-4';
import Scan from 'lucide-react-native/icons/scan';
import LoupeIcon from 'lucide-react-native/icons/search';
import Clip from 'lucide-react-native/icons/triangle-alert';
import { IconButton } from '../controls/Button';
import { Recede } from '../controls/held';
import { usePreview } from '../engine/shown';
import { fit, fullScale } from '../state/look';
import { noteShown, TOOL_WORDS, useWasShown } from '../state/once';
import { compare, flip, nextSurround, useView } from '../state/view';
import { colour, surroundNames, type } from '../theme/tokens';
import { BuildUp } from './BuildUp';
import { useShortcuts } from './keys';
import { say } from '../words';

/** What is switched on and off, with what its button is called then. */
const WAYS = [
  { way: 'split', icon: Columns, on: say.bench.putTheSplitLineAway, off: say.bench.splitLine, word: say.bench.split },
  { way: 'loupe', icon: LoupeIcon, on: say.bench.putTheLoupeAway, off: say.bench.loupe, word: say.bench.loupe },
  { way: 'histogram', icon: Chart, on: say.bench.putTheHistogramAway, off: say.bench.histogram, word: say.bench.tones },
  { way: 'marks', icon: Clip, on: say.bench.putTheMarksAway, off: say.bench.markClippedEnds, word: say.bench.clipped },
  { way: 'zones', icon: Steps, on: say.bench.putTheZonesAway, off: say.bench.zones, word: say.bench.zones },
] as const;

/** One line of ways to look: original, zoom, surround. Words stand under them until they are put away. */
export function Tools({ fullWidth, inBar = false }: { fullWidth: number; inBar?: boolean }) {
  const view = useView(
    useShallow(({ look, comparing, surround, split, loupe, histogram, marks, zones }) => ({
      look,
      comparing,
      surround,
      split,
      loupe,
      histogram,
      marks,
      zones,
    })),
  );
  const { look, comparing, surround } = view;
  const shown = usePreview(({ original }) => original);
  const worded = !useWasShown(TOOL_WORDS);
  const word = (text: string): string | undefined => (worded ? text : undefined);
  const key = useShortcuts();
  const zoomedIn = look.scale > 1.01;
  return (
    <View>
      <Recede style={[styles.tools, worded && styles.worded, inBar && styles.inBar]}>
        <IconButton
          icon={Compare}
          label={comparing ? say.bench.showTheResult : say.bench.showTheOriginal}
          word={word(comparing ? say.bench.result : say.bench.original)}
          pressed={comparing}
          shortcut={key('original')}
          onPress={() => compare(!comparing)}
        />
        <IconButton
          icon={Scan}
          label={zoomedIn ? say.bench.fitThePhoto : say.bench.zoomIn}
          word={word(zoomedIn ? say.bench.fit : say.bench.zoom)}
          pressed={zoomedIn}
          {...(zoomedIn && { shortcut: key('fit') })}
          onPress={() => useView.setState({ look: zoomedIn ? fit : { scale: fullScale(fullWidth, (shown?.width ?? fullWidth) / 4), x: 0, y: 0 } })}
        />
        {WAYS.map(({ way, icon, on, off, word: short }) => (
          <IconButton
            key={way}
            icon={icon}
            label={view[way] ? on : off}
            word={word(short)}
            pressed={view[way]}
            shortcut={key(way)}
            onPress={() => flip(way)}
          />
        ))}
        <BuildUp word={word(say.bench.buildUp)} />
        <IconButton
          icon={Frame}
          label={say.bench.surroundWhatChangeIt(surroundNames[surround] ?? '')}
          word={word(say.bench.surround)}
          shortcut={key('surround')}
          onPress={nextSurround}
        />
      </Recede>
      {worded && !inBar && (
        <Recede style={styles.foot}>
          <Pressable role="button" onPress={() => noteShown(TOOL_WORDS)} hitSlop={{ top: 2, bottom: 10, left: 12, right: 12 }} style={styles.away}>
            <Text style={type.small}>{say.bench.hideTheseWords}</Text>
          </Pressable>
        </Recede>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  tools: { flexDirection: 'row', justifyContent: 'space-around', alignItems: 'center', height: 46, backgroundColor: colour.desk },
  worded: { height: 54 },
  inBar: { justifyContent: 'center', marginHorizontal: 12 },
  foot: { alignItems: 'center', backgroundColor: colour.desk },
  away: { minHeight: 32, justifyContent: 'center' },
});
