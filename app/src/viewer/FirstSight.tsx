import { useState } from 'react';
import { ActivityIndicator, StyleSheet, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { usePreview } from '../engine/shown';
import { smallPictureUrl } from '../state/opening';
import { useView } from '../state/view';
import { colour, surrounds, web } from '../theme/tokens';
import { say } from '../words';

/** The small picture of a version, where the large one will be, until that is there: the bench is never without a picture. */
export function FirstSight({ versionId, name }: { versionId: string; name: string }) {
  const waits = usePreview(({ state, frame }) => frame === undefined && state !== 'failed');
  const { surround, look } = useView(useShallow(({ surround, look }) => ({ surround, look })));
  const [lost, setLost] = useState(false);
  if (!waits) return null;
  return (
    <View pointerEvents="none" style={[StyleSheet.absoluteFill, styles.area, { backgroundColor: surrounds[surround] }]}>
      {lost ? (
        <ActivityIndicator aria-label={say.viewer.openingThePhoto} color={colour.quiet} />
      ) : (
        <View style={[StyleSheet.absoluteFill, web({ transform: `translate(${look.x}px, ${look.y}px) scale(${look.scale})` })]}>
          <img
            src={smallPictureUrl(versionId)}
            alt={name ? say.viewer.nameOpening(name) : say.viewer.openingThePhoto}
            decoding="sync"
            onError={() => setLost(true)}
            style={{ width: '100%', height: '100%', objectFit: 'contain' }}
          />
        </View>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  area: { alignItems: 'center', justifyContent: 'center', overflow: 'hidden' },
});
