import { memo } from 'react';
import { StyleSheet, Text } from 'react-native';
import { kindOf, pictureSize, type KindLayer } from '@bexlen/core';
import { Button } from '../controls/Button';
import { Recede } from '../controls/held';
import { useFacts } from '../engine/facts';
import { usePreview } from '../engine/shown';
import { useBench } from '../state/bench';
import { colour, space, touch, type } from '../theme/tokens';
import { fit, fullScale } from '../state/look';
import { useView } from '../state/view';
import { say } from '../words';

/** What the kind has to say of this photo, if it does not suit it. */
export const Fit = memo(function Fit({ layer }: { layer: KindLayer }) {
  const { fit } = kindOf(layer.kind);
  const facts = useFacts();
  const note = fit && facts ? fit(facts) : undefined;
  return note ? (
    <Recede style={styles.fit}>
      <Text style={type.small}>{note}</Text>
    </Recede>
  ) : null;
});

/** One pixel of the photo to one of the screen, and back. */
export function LookClose() {
  const closer = useView(({ look }) => look.scale > 1.01);
  const original = usePreview((state) => state.original);
  const full = useBench((state) => (state.photo ? pictureSize(state.stack().geometry, state.photo).width : 1));
  // The photo lies as wide as its area lets it, so its own pixels are so many times as large.
  const look = (): void => useView.setState({ look: closer ? fit : { scale: fullScale(full, (original?.width ?? full) / 4), x: 0, y: 0 } });
  return (
    <Recede style={styles.line}>
      <Button label={closer ? say.channel.fitThePhotoAgain : say.channel.lookClose} strong={!closer} onPress={look} />
      <Text style={[type.small, styles.grow]}>{say.channel.judgedAtItsOwnPixels}</Text>
    </Recede>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, minHeight: touch },
  grow: { flex: 1 },
  fit: { marginHorizontal: space.m, marginBottom: 6, padding: 8, borderLeftWidth: 3, borderLeftColor: colour.signal, backgroundColor: colour.well },
});
