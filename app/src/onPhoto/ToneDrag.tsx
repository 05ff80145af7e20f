import { useEffect, useRef, type RefObject } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { beneath, find, kindOf, spotAt, type KindLayer, type ParamValue } from '@bexlen/core';
import { hold, letGo } from '../state/held';
import { usePointer } from '../controls/usePointer';
import { useSmallPictures } from '../engine/small';
import { layerTarget } from '../edits/target';
import { useBench } from '../state/bench';
import { colour, type, web } from '../theme/tokens';
import type { PhotoDrag } from './drag';
import type { Point } from './places';
import { shareOf, type Look } from '../state/look';
import { say, inSentence } from '../words';

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

/** A drag that began at a place of the photo, and what it has come to. */
interface Drag {
  readonly layer: KindLayer;
  readonly u: number;
  readonly v: number;
  /** Pixels drawn upwards, and where the finger is now. */
  up: number;
  at: Point;
  /** It was let go before the picture to read was there: it is kept when that comes. */
  ended: boolean;
  values?: Record<string, ParamValue> | undefined;
  label: string;
}

/** What a drag on the photo does to a layer: the control that governs the place moves and says its name. */
export function useToneDrag({ layerId, section, area, picture, look }: Props) {
  const below = useBench((state) => JSON.stringify(beneath(state.stack(), layerId).layers));
  const [seen] = useSmallPictures(below, () => [beneath(useBench.getState().stack(), layerId)]);
  const latest = useRef(seen);
  const work = useRef<Drag>(undefined);
  const end = (it: Drag): void => {
    letGo();
    work.current = undefined;
    if (it.values) layerTarget(it.layer).keep(it.values, inSentence(it.label));
  };
  /** Moves the control of the grey that lies where the drag began, once the small picture tells which that is. */
  const follow = (it: Drag): void => {
    if (!latest.current) return;
    const spot = spotAt(latest.current, it.u, it.v, REACH);
    const dragged = kindOf(it.layer.kind).drag?.(spot, it.layer.params as never, it.up / FULL_PX, section);
    it.values = dragged?.values as Record<string, ParamValue> | undefined;
    it.label = dragged?.label ?? say.onPhoto.noControlGovernsThisGrey;
    if (it.ended) return end(it);
    hold(TONE_DRAG, { text: it.label, x: it.at.x, y: it.at.y - 36 });
    if (it.values) layerTarget(it.layer).show(it.values);
  };
  useEffect(() => {
    const came = !latest.current && seen !== undefined;
    latest.current = seen;
    if (came && work.current) follow(work.current);
  });
  return {
    /** Begins at a place of the area; false where nothing is to be dragged. */
    down: (place: Point): boolean => {
      const layer = find(useBench.getState().stack().layers, layerId);
      const { u, v } = shareOf(place, look, area, picture);
      work.current = undefined;
      if (!layer || layer.kind === 'group' || u < 0 || v < 0 || u > 1 || v > 1) return false;
      work.current = { layer, u, v, up: 0, at: place, ended: false, label: '' };
      return true;
    },
    move: ({ dy }: { readonly dy: number }, event: PointerEvent): void => {
      const it = work.current;
      if (!it || it.ended) return;
      it.up = -dy;
      it.at = { x: event.clientX, y: event.clientY };
      follow(it);
    },
    up: (moved: boolean): void => {
      const it = work.current;
      if (it && moved && !latest.current) it.ended = true;
      else if (it && moved) end(it);
      else {
        letGo();
        work.current = undefined;
      }
    },
    cancel: (): void => {
      letGo();
      if (work.current) layerTarget(work.current.layer).show({});
      work.current = undefined;
    },
  };
}

/** While it is on, every press on the photo is such a drag, also close up. */
export function ToneDrag(props: Props) {
  const drag = useToneDrag(props);
  const ref = usePointer({
    down: (at) => {
      at.event.stopPropagation();
      return drag.down(at);
    },
    move: ({ dy, event }) => drag.move({ dy }, event),
    up: (_drag, moved) => drag.up(moved),
    cancel: drag.cancel,
  });
  return (
    <View ref={ref} aria-label={say.onPhoto.dragUpOrDownOnThe} style={[StyleSheet.absoluteFill, web({ touchAction: 'none', cursor: 'ns-resize' })]}>
      <View style={styles.tag} pointerEvents="none">
        <Text style={[type.small, { color: colour.text }]}>{say.onPhoto.dragUpOrDownOnThe}</Text>
      </View>
    </View>
  );
}

/** Hands such drags to the gestures on the photo, which know them from holding, panning and zooming. */
export function ReadyDrag({ to, ...props }: Props & { readonly to: RefObject<PhotoDrag | undefined> }) {
  const drag = useToneDrag(props);
  useEffect(() => {
    to.current = drag;
  });
  useEffect(() => () => void (to.current = undefined), [to]);
  return null;
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
