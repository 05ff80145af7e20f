import { useEffect, useMemo, useRef, useState } from 'react';
import { ActivityIndicator, StyleSheet, Text, View } from 'react-native';
import { create } from 'zustand';
import { colour, surrounds, type, web } from '../theme/tokens';
import { usePreview } from '../engine/preview';
import { Picture } from '../controls/Picture';
import { useGestures } from './gestures';
import { fit, fullScale, zoomed, type Look } from './look';

interface ViewState {
  readonly look: Look;
  readonly surround: number;
  readonly comparing: boolean;
}

/** How the photo is looked at. Not part of a version. */
export const useView = create<ViewState>(() => ({ look: fit, surround: 1, comparing: false }));
export const compare = (comparing: boolean): void => useView.setState({ comparing });
export const nextSurround = (): void => useView.setState(({ surround }) => ({ surround: (surround + 1) % surrounds.length }));

/** The photo, with its surround. Hold it for the original; two fingers, wheel or double tap zoom; one finger pans when zoomed. */
export function Viewer({ name, fullWidth }: { name: string; fullWidth: number }) {
  const { state, message, original, frame } = usePreview();
  const { look, surround, comparing } = useView();
  const [area, setArea] = useState({ width: 0, height: 0 });
  const box = useRef({ area, picture: { width: 1, height: 1 } });
  const picture = original ?? { width: 3, height: 2 };
  const scale = Math.min(area.width / picture.width, area.height / picture.height) || 0;
  const [width, height] = [picture.width * scale, picture.height * scale];
  useEffect(() => {
    box.current = { area, picture: { width, height } };
  });
  useEffect(() => useView.setState({ look: fit, comparing: false }), [name]);

  const handlers = useMemo(
    () => ({
      look: () => useView.getState().look,
      change: (next: Look) => useView.setState({ look: zoomed(next, box.current.area, box.current.picture) }),
      hold: compare,
      toggle: (x: number, y: number) => {
        const { look: now } = useView.getState();
        const { area: room, picture: shown } = box.current;
        const to =
          now.scale > 1.01
            ? fit
            : {
                scale: fullScale(fullWidth, shown.width),
                x: (room.width / 2 - x) * (fullScale(fullWidth, shown.width) - 1),
                y: (room.height / 2 - y) * (fullScale(fullWidth, shown.width) - 1),
              };
        useView.setState({ look: zoomed(to, room, shown) });
      },
    }),
    [fullWidth],
  );
  const ref = useGestures(handlers);

  const image = comparing ? original : (frame?.image ?? original);
  return (
    <View
      ref={ref}
      style={[styles.area, { backgroundColor: surrounds[surround] }, web({ touchAction: 'none', userSelect: 'none' })]}
      onLayout={({ nativeEvent: { layout } }) => setArea({ width: layout.width, height: layout.height })}
    >
      <View
        style={[
          { width, height },
          web({
            transform: `translate(${look.x}px, ${look.y}px) scale(${look.scale})`,
            imageRendering: look.scale * scale > 3 ? 'pixelated' : 'auto',
          }),
        ]}
      >
        <Picture image={image} label={comparing ? `${name}, original` : `${name}, as it is now`} />
      </View>
      {state === 'opening' && !original && <ActivityIndicator aria-label="Opening the photo" color={colour.quiet} style={StyleSheet.absoluteFill} />}
      {state === 'failed' && (
        <View style={styles.fault}>
          <Text style={type.body}>{message}</Text>
          <Text style={type.small}>What you kept is safe. If the photo does not come, reload the page.</Text>
        </View>
      )}
      {comparing && (
        <View style={styles.tag} pointerEvents="none">
          <Text style={type.small}>Original</Text>
        </View>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  area: { flex: 1, alignItems: 'center', justifyContent: 'center', overflow: 'hidden' },
  fault: { position: 'absolute', padding: 16, gap: 6, maxWidth: 340, backgroundColor: colour.desk, borderRadius: 6 },
  tag: {
    position: 'absolute',
    top: 10,
    alignSelf: 'center',
    paddingVertical: 4,
    paddingHorizontal: 10,
    borderRadius: 4,
    backgroundColor: 'rgba(20,20,20,0.8)',
  },
});
