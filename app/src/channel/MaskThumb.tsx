import { StyleSheet, View } from 'react-native';
import { isEffective, type Layer } from '@bexlen/core';
import { Picture } from '../controls/Picture';
import { useSmallPictures } from '../engine/small';
import { inForce, useBench } from '../state/bench';
import { colour } from '../theme/tokens';
import { say } from '../words';

/** A small picture of a layer's mask, for those that have one. */
export function MaskThumb({ layer }: { layer: Layer }) {
  const geometry = useBench((state) => inForce(state.history).geometry);
  const there = isEffective(layer.mask);
  const [image] = useSmallPictures(there ? `${JSON.stringify(layer.mask)} ${JSON.stringify(geometry)}` : '', () =>
    there ? [{ stack: useBench.getState().stack(), mask: layer.id }] : [],
  );
  if (!there) return null;
  return (
    <View style={styles.thumb} role="img" aria-label={say.channel.maskOfName(layer.name)}>
      <Picture image={image} />
    </View>
  );
}

const styles = StyleSheet.create({
  thumb: { width: 36, height: 26, borderRadius: 2, overflow: 'hidden', backgroundColor: colour.well, borderWidth: 1, borderColor: colour.edge },
});
