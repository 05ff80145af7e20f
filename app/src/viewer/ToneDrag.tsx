import { useRef } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { beneath, find, kindOf, spotAt, type KindLayer, type ParamValue } from '@bexlen/core';
import { hold, letGo } from '../controls/held';
import { usePointer } from '../controls/usePointer';
import { useSmallPictures } from '../desk/small';
import { several } from '../desk/actions';
import { useBench } from '../state/bench';
import { colour, type, web } from '../theme/tokens';
import { shareOf, type Look } from './look';

/** Pixels of a drag that move a control all the way. */
const FULL_PX = 220;
const REACH = 2;
export const TONE_DRAG = 'tone-drag';

interface Props {
  readonly layerId: string;
  readonly section: string | undefined;
  readonly area: { readonly width: number; readonly height: number };
  readonly picture: { readonly width: number; readonly height: number };
  readonly look: Look;
}

/** While it is on: press a place of the photo and drag up or down; the control that governs that place moves and says its name. */
export function ToneDrag({ layerId, section, area, picture, look }: Props) {
  const below = useBench((state) => JSON.stringify(beneath(state.stack(), layerId).layers));
  const [seen] = useSmallPictures(below, () => [beneath(useBench.getState().stack(), layerId)]);
  const work = useRef<{ layer: KindLayer; spot: ReturnType<typeof spotAt>; values: Record<string, ParamValue> | undefined; label: string }>(
    undefined,
  );
  const ref = usePointer({
    down: (drag) => {
      drag.event.stopPropagation();
      const layer = find(useBench.getState().stack().layers, layerId);
      const { u, v } = shareOf(drag, look, area, picture);
      if (!layer || layer.kind === 'group' || !seen || u < 0 || v < 0 || u > 1 || v > 1) return false;
      work.current = { layer, spot: spotAt(seen, u, v, REACH), values: undefined, label: '' };
      return true;
    },
    move: ({ dy, event }) => {
      const it = work.current;
      if (!it) return;
      const dragged = kindOf(it.layer.kind).drag?.(it.spot, it.layer.params as never, -dy / FULL_PX, section);
      it.values = dragged?.values as Record<string, ParamValue> | undefined;
      it.label = dragged?.label ?? 'No control governs this grey';
      hold(TONE_DRAG, { text: it.label, x: event.clientX, y: event.clientY - 36 });
      if (it.values) several.show(it.layer, it.values);
    },
    up: (_drag, moved) => {
      letGo();
      const it = work.current;
      if (moved && it?.values) several.keep(it.layer, it.label.toLowerCase(), it.values);
    },
    cancel: () => {
      letGo();
      if (work.current) several.show(work.current.layer, {});
    },
  });
  return (
    <View ref={ref} aria-label="Drag up or down on the photo" style={[StyleSheet.absoluteFill, web({ touchAction: 'none', cursor: 'ns-resize' })]}>
      <View style={styles.tag} pointerEvents="none">
        <Text style={[type.small, { color: colour.text }]}>Drag up or down on the photo</Text>
      </View>
    </View>
  );
}

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
