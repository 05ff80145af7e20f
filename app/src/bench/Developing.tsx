import { useEffect } from 'react';
import { ScrollView, StyleSheet, Text } from 'react-native';
import equal from 'fast-deep-equal';
import { asShot } from '@bexlen/core';
import Pipette from 'lucide-react-native/icons/pipette';
import { Button } from '../controls/Button';
import { Recede } from '../controls/held';
import { developmentTarget } from '../edits/target';
import { ParamEditors } from '../params/ParamEditor';
import { useBench } from '../state/bench';
import { useView } from '../state/view';
import { space, type } from '../theme/tokens';
import { say } from '../words';

/** How a raw file is developed: its light, the colour of the light that it was taken in, and how far highlights are brought back. */
export function Developing({ onDone }: { onDone: () => void }) {
  const stack = useBench((state) => state.stack());
  const picking = useView((state) => state.greyPick);
  const target = developmentTarget(stack);
  useEffect(() => () => useView.setState({ greyPick: false }), []);
  return (
    <ScrollView contentContainerStyle={styles.page}>
      <Recede style={styles.head}>
        <Text style={[type.title, styles.grow]}>{say.bench.development}</Text>
        <Button label={say.bench.asShot} off={equal(target.values, asShot)} onPress={() => target.keep(asShot, say.bench.asShotStep)} />
        <Button label={say.bench.done} strong onPress={onDone} />
      </Recede>
      <ParamEditors target={target} />
      <Recede style={styles.row}>
        <Button
          icon={Pipette}
          label={picking ? say.bench.tapItOnThePhoto : say.bench.pickAGrey}
          strong={picking}
          onPress={() => useView.setState({ greyPick: !picking, split: false, loupe: false, toneDrag: undefined })}
        />
      </Recede>
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  page: { paddingBottom: space.m, gap: 2 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingBottom: 4 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, minHeight: 48 },
  grow: { flex: 1 },
});
