import { useState } from 'react';
import { Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { masterParams } from '@bexlen/core';
import { Fader } from '../controls/Fader';
import { Figure } from '../controls/Figure';
import { Recede } from '../controls/held';
import { useBench } from '../state/bench';
import { dotted, touch, type } from '../theme/tokens';
import { masterTarget } from '../edits/target';
import { useMirror } from '../controls/mirror';
import { TestStrip } from '../channel/TestStrip';
import { say } from '../words';

/** Scales the whole look, 0 to 150 %. */
export function Master({ upright, low = false }: { upright: boolean; /** In little room: the fader lies. */ low?: boolean }) {
  const [strip, setStrip] = useState(false);
  const mirror = useMirror();
  const { width } = useWindowDimensions();
  const value = useBench((state) => state.stack().master);
  const master = masterTarget({ master: value });
  const keep = (next: number): void => master.keep({ master: next });
  const figure = <Figure label={say.desk.master} param={masterParams.master} value={value} edge={1} onKeep={keep} />;
  const fader = (
    <Fader
      id="master"
      label={say.desk.master}
      param={masterParams.master}
      value={value}
      edge={1}
      family="group"
      upright={upright && !low}
      onShow={(next) => master.show({ master: next })}
      onKeep={keep}
    />
  );
  const label = (
    <Pressable role="button" aria-label={say.desk.testStripOfMaster} onPress={() => setStrip(!strip)} style={styles.label}>
      <Text style={[upright ? type.title : type.label, dotted]}>{say.desk.master}</Text>
    </Pressable>
  );
  const laidOut = strip && (
    <View style={[styles.over, upright ? styles.beside : { left: -14, bottom: 56, width: Math.min(width, 520) }]}>
      <TestStrip
        control={{ name: 'master', label: say.desk.master, param: masterParams.master, value }}
        others={[]}
        at={master.at}
        onTake={(taken) => {
          master.keep(taken);
          setStrip(false);
        }}
        onClose={() => setStrip(false)}
      />
    </View>
  );
  const mine = (held: string): boolean => held === 'master';
  if (upright && low)
    return (
      <View style={styles.lowStrip}>
        {laidOut}
        <Recede style={styles.lowHead}>
          {label}
          {figure}
        </Recede>
        <Recede mine={mine} style={styles.lowFader}>
          {fader}
        </Recede>
      </View>
    );
  if (upright)
    return (
      <View style={styles.strip}>
        <Recede mine={mine} style={styles.stripFader}>
          {fader}
        </Recede>
        <Recede style={styles.foot}>
          {figure}
          {label}
        </Recede>
        {laidOut}
      </View>
    );
  return (
    <View style={[styles.row, mirror]}>
      {laidOut}
      <Recede>{label}</Recede>
      <Recede mine={mine} style={styles.rowFader}>
        {fader}
      </Recede>
      <Recede>{figure}</Recede>
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flex: 1, flexDirection: 'row', alignItems: 'center', gap: 8 },
  rowFader: { flex: 1, flexDirection: 'row' },
  strip: { width: 116, height: '100%', alignItems: 'center', paddingVertical: 12 },
  stripFader: { flex: 1, alignItems: 'center' },
  lowStrip: { width: 232, height: '100%', paddingHorizontal: 12, borderLeftWidth: 1, borderLeftColor: '#242424' },
  lowHead: { flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center', paddingTop: 6 },
  lowFader: { flexDirection: 'row' },
  label: { minHeight: touch, minWidth: touch, justifyContent: 'center' },
  over: { position: 'absolute', zIndex: 2 },
  beside: { right: 120, bottom: 8, width: 460 },
  foot: { alignItems: 'center', gap: 2 },
});
