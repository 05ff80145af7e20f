import { useEffect, useMemo } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { controlMapOf, EVERY_MASK, find, lightMapOf, type Layer } from '@bexlen/core';
import { Picture } from '../controls/Picture';
import { useFraming, usePreview } from '../engine/shown';
import { seeMask } from '../engine/preview';
import { inForce, useBench } from '../state/bench';
import { type } from '../theme/tokens';
import { useWhere, type MaskView } from '../state/byHand';
import { say } from '../words';

/** What is let through less than this is hatched; less than the second, twice as densely. */
const HATCHED = 128;
const DENSE = 26;
/** Pixels of the screen from one line to the next. */
const PITCH = 15;

/** Keeps the mask that is worked on at hand, while it is seen or its share is told. */
export function MaskWatch(): null {
  const open = useBench((state) => state.open);
  const every = useWhere((state) => state.every);
  const frame = usePreview((state) => state.frame);
  const stack = useBench((state) => inForce(state.history));
  const draft = useBench((state) => state.draft);
  const light = useWhere((state) => state.map);
  const focusing = useWhere((state) => state.focusing);
  const seen = useWhere((state) => state.view !== 'photo' || state.map || state.focusing);
  const wanted = focusing && open !== undefined ? controlMapOf(open) : every ? EVERY_MASK : open !== undefined && light ? lightMapOf(open) : open;
  useEffect(() => {
    // A mask that lets everything through is looked at when somebody wants to see it.
    const whole = wanted === open && !seen && isWhole(open === undefined ? undefined : find(stack.layers, open));
    if (wanted === undefined || whole) return useWhere.setState({ image: undefined, share: undefined });
    // What is painted is looked at when it rests, unless the mask is in view.
    if (draft !== undefined && !seen) return;
    seeMask(wanted, seen, (image) => useWhere.setState({ image, share: shareOf(image) }));
  }, [wanted, open, stack, draft, seen, frame]);
  return null;
}

const isWhole = (layer: Layer | undefined): boolean => layer !== undefined && layer.mask.parts.length === 0 && !layer.mask.inverted;

function shareOf({ data }: ImageData): number {
  let sum = 0;
  for (let i = 0; i < data.length; i += 4) sum += data[i] as number;
  return sum / (255 * (data.length / 4));
}

/** The mask over the photo: lines where it leaves out, which tint nothing; greys; or only what is let through. */
export function MaskSeen({ width }: { width: number }) {
  const { view, every, map, image, focusing } = useWhere(
    useShallow(({ view, every, map, image, focusing }) => ({ view, every, map, image, focusing })),
  );
  const framing = useFraming((state) => state.framing);
  const shown: MaskView = focusing ? 'hatched' : map ? 'greys' : every ? 'hatched' : view;
  const over = useMemo(() => (image && shown !== 'photo' ? laid(image, shown, image.width / Math.max(1, width)) : undefined), [image, shown, width]);
  if (!over || framing) return null;
  return (
    <View
      style={StyleSheet.absoluteFill}
      pointerEvents="none"
      role="img"
      aria-label={
        focusing
          ? say.onPhoto.whatIsSharpHatched
          : map
            ? say.onPhoto.theMapOfLight
            : every
              ? say.onPhoto.whatNoMaskTouchesHatched
              : say.onPhoto.theMask
      }
    >
      <Picture image={over} />
    </View>
  );
}

/** @param scale pixels of the mask to one of the screen. */
function laid(mask: ImageData, view: MaskView, scale: number): ImageData {
  const out = new ImageData(mask.width, mask.height);
  const pitch = Math.max(4, Math.round(PITCH * scale));
  const line = Math.max(1, Math.round(0.8 * scale));
  for (let y = 0; y < mask.height; y++)
    for (let x = 0; x < mask.width; x++) {
      const i = 4 * (y * mask.width + x);
      const v = mask.data[i] as number;
      if (view === 'greys') out.data.set([v, v, v, 255], i);
      else if (view === 'cut') out.data.set([119, 119, 119, 255 - v], i);
      else if (v < HATCHED) {
        const place = (x + y) % pitch;
        const other = (x - y + pitch * mask.height) % pitch;
        const on = place < line || (v < DENSE && other < line);
        const beside = (place >= line && place < 2 * line) || (v < DENSE && other >= line && other < 2 * line);
        if (on) out.data.set([255, 255, 255, 150], i);
        else if (beside) out.data.set([0, 0, 0, 110], i);
      }
    }
  return out;
}

/** How much of the picture the mask takes, told live. */
export function ShareTold() {
  const { share, every, map } = useWhere(useShallow(({ share, every, map }) => ({ share, every, map })));
  if (share === undefined || map) return null;
  const percent = Math.round(share * 100);
  return (
    <View style={styles.share} role="status" aria-live="polite">
      <Text style={type.small}>
        {every ? say.onPhoto.whatFree(100 - percent) : say.onPhoto.takesWhat(percent === 0 && share > 0 ? say.onPhoto.under : percent)}
      </Text>
    </View>
  );
}

const styles = StyleSheet.create({
  share: { minHeight: 16 },
});
