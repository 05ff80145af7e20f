import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { pictureSize, type Rect, unit } from '@bexlen/core';
import { usePointer } from '../controls/usePointer';
import { Picture } from '../controls/Picture';
import { closeUp } from '../engine/preview';
import { usePreview } from '../engine/shown';
import { gamutOf, newImage } from '../state/wide';
import { useBench } from '../state/bench';
import { colour, type, web } from '../theme/tokens';
import { shareOf, type Look } from '../state/look';
import { say } from '../words';

/** Side of each of the two views, in pixels of the screen. */
const SIDE = 150;
/** The place must rest so long before its own pixels are asked for. */
const REST_MS = 90;
const KEYS: Record<string, readonly [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
/** A step of the keys, as a share of the photo. */
const STEP = 0.02;

interface Props {
  readonly area: { readonly width: number; readonly height: number };
  readonly picture: { readonly width: number; readonly height: number };
  readonly look: Look;
}

type Both = { readonly before: ImageData; readonly after: ImageData };

/** The place under the finger at its own pixels, as it came and as it is now, side by side. */
export function Loupe({ area, picture, look }: Props) {
  const [at, setAt] = useState({ u: 0.5, v: 0.5 });
  const [sharp, setSharp] = useState<{ readonly key: string; readonly both: Both }>();
  const { original, frame } = usePreview(useShallow(({ original, frame }) => ({ original, frame })));
  const photo = useBench((state) => state.photo);
  const stack = useBench((state) => state.stack());
  const full = photo ? pictureSize(stack.geometry, photo) : { width: 1, height: 1 };
  const side = Math.round(SIDE * (globalThis.devicePixelRatio || 1));
  const rect = around(at, full, side);
  const key = JSON.stringify(rect);
  const begun = useRef(at);
  const to = (x: number, y: number): void => {
    const { u, v } = shareOf({ x, y }, look, area, picture);
    setAt({ u: unit(u), v: unit(v) });
  };
  const ref = usePointer({
    down: ({ x, y, event }) => {
      event.stopPropagation();
      begun.current = { u: x, v: y };
      to(x, y);
    },
    move: ({ dx, dy }) => to(begun.current.u + dx, begun.current.v + dy),
    key: ({ key: pressed, shiftKey }) => {
      const by = KEYS[pressed];
      const step = shiftKey ? 5 * STEP : STEP;
      if (by) setAt((now) => ({ u: unit(now.u + by[0] * step), v: unit(now.v + by[1] * step) }));
    },
  });
  useEffect(() => {
    if (!photo) return;
    const gone = new AbortController();
    const timer = setTimeout(() => closeUp(photo, rect, stack, gone.signal, (both) => setSharp({ key, both })), REST_MS);
    return () => {
      gone.abort();
      clearTimeout(timer);
    };
    // The rectangle is what the key says.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, stack, photo?.id]);
  const rough = useMemo(() => {
    const now = frame?.image;
    return original && now ? { before: cut(original, at, full, side), after: cut(now, at, full, side) } : undefined;
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, original, frame]);
  const shown = sharp?.key === key ? sharp.both : rough;
  const spot = {
    x: area.width / 2 + look.x + (at.u - 0.5) * picture.width * look.scale,
    y: area.height / 2 + look.y + (at.v - 0.5) * picture.height * look.scale,
  };
  const side2 = 2 * SIDE + 4;
  const left = Math.min(area.width - side2 - 6, Math.max(6, spot.x - side2 / 2));
  const above = spot.y - SIDE - 40;
  const top = above > 6 ? above : Math.min(area.height - SIDE - 6, spot.y + 40);
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={say.viewer.loupe}
      aria-valuetext={say.viewer.uAcrossVDown(Math.round(at.u * 100), Math.round(at.v * 100))}
      tabIndex={0}
      style={[StyleSheet.absoluteFill, web({ touchAction: 'none', cursor: 'crosshair', outlineStyle: 'none' })]}
    >
      <View pointerEvents="none" style={[styles.mark, { left: spot.x - 9, top: spot.y - 9 }]} />
      <View pointerEvents="none" style={[styles.pair, { left, top }]}>
        {(['before', 'after'] as const).map((which) => (
          <View key={which} style={styles.view}>
            <Picture image={shown?.[which]} label={say.viewer.thePlaceWhich(say.viewer[which])} />
            <Text style={[type.small, styles.tag]}>{say.viewer[which]}</Text>
          </View>
        ))}
      </View>
    </View>
  );
}

/** A square of the picture about a place, in its own pixels, within it. */
function around({ u, v }: { u: number; v: number }, full: { width: number; height: number }, side: number): Rect {
  const [w, h] = [Math.min(side, full.width), Math.min(side, full.height)];
  const from = (at: number, length: number, most: number): number => Math.min(most - length, Math.max(0, Math.round(at - length / 2)));
  return { x: from(u * full.width, w, full.width), y: from(v * full.height, h, full.height), w, h };
}

/** The same out of a smaller picture, until its own pixels are there. */
function cut(image: ImageData, at: { u: number; v: number }, full: { width: number; height: number }, side: number): ImageData {
  const share = image.width / full.width;
  const { x, y, w, h } = around(at, { width: image.width, height: image.height }, Math.max(2, Math.round(side * share)));
  const out = newImage(w, h, gamutOf(image));
  for (let row = 0; row < h; row++)
    out.data.set(image.data.subarray(4 * ((y + row) * image.width + x), 4 * ((y + row) * image.width + x + w)), 4 * row * w);
  return out;
}

const styles = StyleSheet.create({
  mark: { position: 'absolute', width: 18, height: 18, borderRadius: 9, borderWidth: 2, borderColor: colour.signal },
  pair: { position: 'absolute', flexDirection: 'row', gap: 4 },
  view: { width: SIDE, height: SIDE, borderRadius: 6, overflow: 'hidden', borderWidth: 1, borderColor: colour.groove, backgroundColor: colour.well },
  tag: { position: 'absolute', left: 4, bottom: 4, paddingHorizontal: 6, borderRadius: 3, backgroundColor: 'rgba(20,20,20,0.8)' },
});
