import { StyleSheet, Text, View } from 'react-native';
import { asShot, greyAt, spotAt } from '@bexlen/core';
import { usePointer } from '../controls/usePointer';
import { developmentTarget } from '../edits/target';
import { usePreview } from '../engine/shown';
import { gamutOf } from '../state/wide';
import { shareOf, type Look } from '../state/look';
import { inForce, useBench } from '../state/bench';
import { useView } from '../state/view';
import { colour, type, web } from '../theme/tokens';
import { say } from '../words';

/** Pixels on each side of the place that are taken together: noise is no colour. */
const REACH = 4;

interface Props {
  readonly area: { readonly width: number; readonly height: number };
  readonly picture: { readonly width: number; readonly height: number };
  readonly look: Look;
}

/** A tap on something grey sets the colour of the light that a raw file was taken in; drawn on, the place under the finger is seen at once. */
export function GreyPick({ area, picture, look }: Props) {
  const ref = usePointer({
    down: ({ x, y, event }) => {
      event.stopPropagation();
      take({ x, y }, 'show');
    },
    move: ({ x, y }) => take({ x, y }, 'show'),
    up: ({ x, y }) => {
      take({ x, y }, 'keep');
      useView.setState({ greyPick: false });
    },
    cancel: () => developmentTarget(kept()).show({}),
  });
  const take = (at: { x: number; y: number }, how: 'show' | 'keep'): void => {
    const { original } = usePreview.getState();
    const { u, v } = shareOf(at, look, area, picture);
    if (!original || u < 0 || v < 0 || u > 1 || v > 1) return;
    // What is seen of the photo before its layers is developed as was kept last.
    const stack = kept();
    const values = greyAt(spotAt(original, u, v, REACH).rgb, gamutOf(original), stack.development ?? asShot);
    if (how === 'show') developmentTarget(stack).show(values);
    else developmentTarget(stack).keep(values, say.onPhoto.greyPickedOnThePhoto);
  };
  return (
    <View ref={ref} aria-label={say.onPhoto.tapSomethingGrey} style={[StyleSheet.absoluteFill, web({ touchAction: 'none', cursor: 'crosshair' })]}>
      <View style={styles.tag} pointerEvents="none">
        <Text style={[type.small, { color: colour.text }]}>{say.onPhoto.tapSomethingGrey}</Text>
      </View>
    </View>
  );
}

const kept = () => inForce(useBench.getState().history);

const styles = StyleSheet.create({
  tag: {
    position: 'absolute',
    bottom: 10,
    alignSelf: 'center',
    paddingVertical: 4,
    paddingHorizontal: 10,
    borderRadius: 4,
    backgroundColor: 'rgba(20,20,20,0.8)',
  },
});
