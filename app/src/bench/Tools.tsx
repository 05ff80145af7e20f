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
import { noteTold, TOOL_WORDS, useWasTold } from '../state/told';
import { compare, nextSurround, useView } from '../state/view';
import { colour, surroundNames, type } from '../theme/tokens';
import { BuildUp } from './BuildUp';
import { useShortcuts } from './keys';
import { say } from '../words';

/** One line of ways to look: original, zoom, surround. Words stand under them until they are put away. */
export function Tools({ fullWidth, inBar = false }: { fullWidth: number; inBar?: boolean }) {
  const { look, comparing, surround, split, loupe, histogram, marks, zones } = useView(
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
  const shown = usePreview(({ original }) => original);
  const worded = !useWasTold(TOOL_WORDS);
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
        <IconButton
          icon={Columns}
          label={split ? say.bench.putTheSplitLineAway : say.bench.splitLine}
          word={word(say.bench.split)}
          pressed={split}
          shortcut={key('split')}
          onPress={() => useView.setState({ split: !split, loupe: false })}
        />
        <IconButton
          icon={LoupeIcon}
          label={loupe ? say.bench.putTheLoupeAway : say.bench.loupe}
          word={word(say.bench.loupe)}
          pressed={loupe}
          shortcut={key('loupe')}
          onPress={() => useView.setState({ loupe: !loupe, split: false })}
        />
        <IconButton
          icon={Chart}
          label={histogram ? say.bench.putTheHistogramAway : say.bench.histogram}
          word={word(say.bench.tones)}
          pressed={histogram}
          shortcut={key('histogram')}
          onPress={() => useView.setState({ histogram: !histogram })}
        />
        <IconButton
          icon={Clip}
          label={marks ? say.bench.putTheMarksAway : say.bench.markClippedEnds}
          word={word(say.bench.clipped)}
          pressed={marks}
          shortcut={key('marks')}
          onPress={() => useView.setState({ marks: !marks })}
        />
        <IconButton
          icon={Steps}
          label={zones ? say.bench.putTheZonesAway : say.bench.zones}
          word={word(say.bench.zones)}
          pressed={zones}
          shortcut={key('zones')}
          onPress={() => useView.setState({ zones: !zones })}
        />
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
          <Pressable role="button" onPress={() => noteTold(TOOL_WORDS)} hitSlop={{ top: 2, bottom: 10, left: 12, right: 12 }} style={styles.away}>
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
