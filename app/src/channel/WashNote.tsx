import { memo, useMemo } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { beneath, change, isWashed, washOf, type Curve, type Layer, type Stack } from '@bexlen/core';
import { Button } from '../controls/Button';
import { Recede } from '../controls/held';
import { inForce, useBench } from '../state/bench';
import { colour, space, type } from '../theme/tokens';
import * as desk from '../edits/layers';
import { useSmallPictures } from '../engine/small';
import { say } from '../words';

/** A gate that closes before the whites beneath a layer. */
const SPARES_WHITES: Curve = {
  shape: 'smooth',
  nodes: [
    [0, 1],
    [0.8, 1],
    [0.94, 0],
    [1, 0],
  ],
};

/** What lies beneath a layer, and the same with it. */
function withAndWithout(layer: Layer): readonly Stack[] {
  const below = beneath(inForce(useBench.getState().history), layer.id);
  return [below, change(below, layer.id, () => layer)];
}

/** Says how much a layer dulls what was bright and clean, and opens the gate that stops it. */
export const WashNote = memo(function WashNote({ layer }: { layer: Layer }) {
  const layers = useBench((state) => inForce(state.history).layers);
  const [before, after] = useSmallPictures(layers, () => (layer.on ? withAndWithout(layer) : []));
  const wash = useMemo(() => (before && after && before.width === after.width ? washOf(before, after) : undefined), [before, after]);
  if (!layer.on || !wash || !isWashed(wash)) return null;
  const share = wash.share < 0.01 ? 'under 1 %' : `${Math.round(wash.share * 100)} %`;
  return (
    <Recede style={styles.note}>
      <View style={styles.words} role="status">
        <Text style={type.small}>{say.channel.dullsCleanWhitesShareOfThe(share, Math.max(1, Math.round(wash.loss * 100)))}</Text>
      </View>
      <Button label={say.channel.spareTheWhites} onPress={() => desk.gate.keep(layer, 'beneath', SPARES_WHITES)} />
    </Recede>
  );
});

const styles = StyleSheet.create({
  // It lies over the foot of the page: what is under a finger stays where it is when it comes.
  note: {
    position: 'absolute',
    left: 0,
    right: 0,
    bottom: 4,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    marginHorizontal: space.m,
    paddingLeft: 10,
    borderLeftWidth: 3,
    borderLeftColor: colour.signal,
    backgroundColor: colour.well,
  },
  words: { flex: 1 },
});
