import { StyleSheet, Text, View } from 'react-native';
import { Fader } from '../controls/Fader';
import { Figure } from '../controls/Figure';
import { Recede } from '../controls/held';
import { useBench } from '../state/bench';
import { masterParam } from '../state/words';
import { type } from '../theme/tokens';
import { master } from './actions';

/** Scales the whole look, 0 to 150 %. */
export function Master({ upright }: { upright: boolean }) {
  const value = useBench((state) => state.stack().master);
  const figure = <Figure label="Master" param={masterParam} value={value} edge={1} onKeep={master.keep} />;
  const fader = (
    <Fader
      id="master"
      label="Master"
      param={masterParam}
      value={value}
      edge={1}
      family="group"
      upright={upright}
      onShow={master.show}
      onKeep={master.keep}
    />
  );
  const mine = (held: string): boolean => held === 'master';
  if (upright)
    return (
      <View style={styles.strip}>
        <Recede mine={mine} style={styles.stripFader}>
          {fader}
        </Recede>
        <Recede style={styles.foot}>
          {figure}
          <Text style={type.title}>Master</Text>
        </Recede>
      </View>
    );
  return (
    <View style={styles.row}>
      <Recede>
        <Text style={type.label}>Master</Text>
      </Recede>
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
  foot: { alignItems: 'center', gap: 2 },
});
