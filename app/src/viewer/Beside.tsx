import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, Text, useWindowDimensions, View, type ViewStyle } from 'react-native';
import Columns from 'lucide-react-native/icons/columns-2';
import Layers from 'lucide-react-native/icons/layers-2';
import X from 'lucide-react-native/icons/x';
import { Button, IconButton } from '../controls/Button';
import { Picture } from '../controls/Picture';
import { largePictures } from '../engine/preview';
import { usePreview } from '../engine/shown';
import { colour, surrounds, type, web, WIDE } from '../theme/tokens';
import { besides, useBeside } from './beside';
import { useGestures } from './gestures';
import { fit, zoomed, type Look } from '../state/look';
import { Split } from './Split';
import { useView } from '../state/view';
import { say } from '../words';

const ZOOM = 2;
const KEYS: Record<string, readonly [number, number]> = { ArrowLeft: [60, 0], ArrowRight: [-60, 0], ArrowUp: [0, 60], ArrowDown: [0, -60] };

/** Two to four pictures of the photo side by side, or two over each other with a line between; zoomed and moved together. */
export function Beside() {
  const panes = useBeside((state) => state.panes);
  return panes.length > 1 ? <Open key={panes.map(({ name }) => name).join()} /> : null;
}

function Open() {
  const panes = useBeside((state) => state.panes);
  const surround = useView((view) => view.surround);
  const wide = useWindowDimensions().width >= WIDE;
  const ready = usePreview(({ state }) => state === 'ready');
  const [images, setImages] = useState<readonly (ImageData | undefined)[]>([]);
  const [look, setLook] = useState<Look>(fit);
  const [over, setOver] = useState(false);
  const [area, setArea] = useState({ width: 0, height: 0 });
  const now = useRef({ look, area, picture: { width: 1, height: 1 } });
  useEffect(() => {
    if (ready)
      return largePictures(
        panes.map(({ stack }) => stack),
        (i, image) => setImages((old) => Object.assign([...old], { [i]: image })),
      );
    return undefined;
  }, [panes, ready]);
  const one = images.find((image) => image) ?? { width: 3, height: 2 };
  const scale = Math.min(area.width / one.width, area.height / one.height) || 0;
  const picture = { width: one.width * scale, height: one.height * scale };
  useEffect(() => {
    now.current = { look, area, picture };
  });
  const change = (next: Look): void => setLook(zoomed(next, now.current.area, now.current.picture));
  useEffect(() => {
    const key = (event: KeyboardEvent): void => {
      const { look: at } = now.current;
      const by = KEYS[event.key];
      if (event.key === 'Escape') besides([]);
      else if (event.key === '+') change({ ...at, scale: at.scale * 1.5 });
      else if (event.key === '-') change({ ...at, scale: at.scale / 1.5 });
      else if (by) change({ ...at, x: at.x + by[0], y: at.y + by[1] });
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', key, { capture: true });
    return () => window.removeEventListener('keydown', key, { capture: true });
  }, []);
  const shown = over ? panes.slice(0, 1) : panes;
  return (
    <View role="dialog" aria-label={say.viewer.sideBySide} style={styles.cover}>
      <View style={[styles.panes, { backgroundColor: surrounds[surround] }]}>
        {shown.map((pane, i) => (
          <View key={pane.name} style={[styles.cell, over ? styles.whole : shapeOf(panes.length, wide)]}>
            <Pane
              name={pane.name}
              image={images[i]}
              over={over ? { name: panes[1]?.name ?? '', image: images[1] } : undefined}
              look={look}
              size={picture}
              onLook={change}
              at={() => now.current.look}
              onArea={setArea}
            />
          </View>
        ))}
      </View>
      <View style={styles.foot}>
        {panes.length === 2 && (
          <Button icon={over ? Columns : Layers} label={over ? say.viewer.sideBySide : say.viewer.oneOverTheOther} onPress={() => setOver(!over)} />
        )}
        <Text style={[type.small, styles.words]} numberOfLines={1}>
          {images.filter(Boolean).length < panes.length ? say.viewer.countOfCount(images.filter(Boolean).length, panes.length) : ''}
        </Text>
        <IconButton icon={X} label={say.viewer.closeSideBySide} onPress={() => besides([])} />
      </View>
    </View>
  );
}

interface PaneProps {
  readonly name: string;
  readonly image: ImageData | undefined;
  readonly over: { readonly name: string; readonly image: ImageData | undefined } | undefined;
  readonly look: Look;
  readonly size: { readonly width: number; readonly height: number };
  readonly at: () => Look;
  readonly onLook: (look: Look) => void;
  readonly onArea: (area: { width: number; height: number }) => void;
}

function Pane({ name, image, over, look, size, at, onLook, onArea }: PaneProps) {
  const handlers = useMemo(
    () => ({
      look: at,
      change: onLook,
      hold: () => undefined,
      drag: () => undefined,
      toggle: () => onLook(at().scale > 1.01 ? fit : { scale: ZOOM, x: 0, y: 0 }),
    }),
    // What they call reads what is in force by itself.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [],
  );
  const ref = useGestures(handlers);
  return (
    <View
      ref={ref}
      style={[styles.pane, web({ touchAction: 'none', userSelect: 'none' })]}
      onLayout={({ nativeEvent: { layout } }) => onArea({ width: layout.width, height: layout.height })}
    >
      <View style={[size, web({ transform: `translate(${look.x}px, ${look.y}px) scale(${look.scale})` })]}>
        <Picture image={over ? over.image : image} label={over ? over.name : name} />
        {over && image && <Split original={image} width={size.width} height={size.height} scale={look.scale} name={name} />}
      </View>
      <View style={styles.tag} pointerEvents="none">
        <Text style={type.small}>{over ? over.name : name}</Text>
      </View>
    </View>
  );
}

const half = '50%';
/** How so many stand: beside each other on a wide screen, below each other on a phone, four as a square. */
function shapeOf(count: number, wide: boolean): ViewStyle {
  if (count === 4) return { width: half, height: half };
  const share: `${number}%` = `${100 / count}%`;
  return wide ? { width: share, height: '100%' } : { width: '100%', height: share };
}

const styles = StyleSheet.create({
  cover: { ...StyleSheet.absoluteFill, backgroundColor: colour.desk, zIndex: 5 },
  panes: { flex: 1, flexDirection: 'row', flexWrap: 'wrap', overflow: 'hidden' },
  cell: { padding: 1 },
  whole: { width: '100%', height: '100%' },
  pane: { flex: 1, overflow: 'hidden', alignItems: 'center', justifyContent: 'center' },
  tag: {
    position: 'absolute',
    right: 8,
    bottom: 8,
    paddingVertical: 3,
    paddingHorizontal: 8,
    borderRadius: 4,
    backgroundColor: 'rgba(20,20,20,0.8)',
  },
  foot: { flexDirection: 'row', alignItems: 'center', minHeight: 60, paddingLeft: 10, paddingRight: 4, gap: 8 },
  words: { flex: 1 },
});
