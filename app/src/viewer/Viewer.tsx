import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { colour, surrounds, type, web } from '../theme/tokens';
import { useFraming, usePreview } from '../engine/shown';
import { Picture } from '../controls/Picture';
import { Histogram } from './Histogram';
import { Split } from './Split';
import { Loupe } from './Loupe';
import { MaskSeen } from '../onPhoto/MaskSeen';
import { OnPhoto } from '../onPhoto/OnPhoto';
import type { PhotoDrag } from '../onPhoto/drag';
import { ReadyDrag, ToneDrag } from '../onPhoto/ToneDrag';
import { ClipMarks, Zones, ZoneScale } from './Overlays';
import { useGestures } from './gestures';
import { fit, fullScale, shareOf, sightOf, zoomed, type Look } from '../state/look';
import { useBench } from '../state/bench';
import { comeBack } from '../state/place';
import { useSight } from '../engine/detail';
import { CropFrame } from '../onPhoto/CropFrame';
import { GreyPick } from '../onPhoto/GreyPick';
import { useView } from '../state/view';
import { say } from '../words';

/** From so many screen pixels to one of the working size the full size is asked for. */
const CLOSER = 1.15;

/** How the photo is looked at to begin with: as before, where the page was only loaded anew. */
function begin(): Partial<ReturnType<typeof useView.getState>> {
  const { versionId } = useBench.getState();
  const surround = comeBack(versionId, 'surround');
  return { look: comeBack(versionId, 'look') ?? fit, ...(surround !== undefined && { surround }) };
}

/** The photo, with its surround. Hold it for the original; two fingers, wheel or double tap zoom; one finger pans when zoomed. */
export function Viewer({ name, fullWidth }: { name: string; fullWidth: number }) {
  const { state, message, original, frame, patch, detail } = usePreview(
    useShallow(({ state, message, original, frame, patch, detail }) => ({ state, message, original, frame, patch, detail })),
  );
  const framing = useFraming((it) => it.framing);
  const { look, surround, comparing, split, loupe, histogram, toneDrag, dragReady, marks, zones, greyPick } = useView(
    useShallow(({ look, surround, comparing, split, loupe, histogram, toneDrag, dragReady, marks, zones, greyPick }) => ({
      look,
      surround,
      comparing,
      split,
      loupe,
      histogram,
      toneDrag,
      dragReady,
      marks,
      zones,
      greyPick,
    })),
  );
  const drag = useRef<PhotoDrag>(undefined);
  /** What masks, handles and the brush do comes before what tones do. */
  const handDrag = useRef<PhotoDrag>(undefined);
  const [area, setArea] = useState({ width: 0, height: 0 });
  const box = useRef({ area, picture: { width: 1, height: 1 } });
  const picture = original ?? { width: 3, height: 2 };
  const scale = Math.min(area.width / picture.width, area.height / picture.height) || 0;
  const [width, height] = [picture.width * scale, picture.height * scale];
  useEffect(() => {
    box.current = { area, picture: { width, height } };
  });
  useEffect(() => {
    useView.setState(begin());
    // What was switched on while this photo was still on its way stays on; it goes with the photo.
    return () => useView.setState({ comparing: false, split: false, loupe: false, toneDrag: undefined });
  }, [name]);

  useEffect(() => {
    const closer = look.scale * scale * (globalThis.devicePixelRatio || 1) > CLOSER && picture.width < fullWidth && !loupe;
    useSight.setState({ part: closer && area.width > 0 ? sightOf(look, area, { width, height }) : undefined });
  }, [look, area, width, height, scale, fullWidth, picture.width, loupe]);
  useEffect(() => () => useSight.setState({ part: undefined }), []);

  const handlers = useMemo(
    () => ({
      look: () => useView.getState().look,
      change: (next: Look) => useView.setState({ look: zoomed(next, box.current.area, box.current.picture) }),
      hold: (at: { x: number; y: number } | undefined) => {
        const { look: now } = useView.getState();
        const { area: room, picture: shown } = box.current;
        useView.setState({ comparing: at !== undefined, probe: at && shareOf(at, now, room, shown) });
      },
      drag: () => handDrag.current ?? drag.current,
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
        <Picture
          image={image}
          seen={comparing ? undefined : frame?.seen}
          by={comparing ? undefined : frame?.by}
          patch={comparing ? undefined : patch}
          label={comparing ? say.viewer.nameOriginal(name) : say.viewer.nameAsItIsNow(name)}
        />
        {detail && !framing && (
          <View
            pointerEvents="none"
            style={{
              position: 'absolute',
              left: detail.part.x * width,
              top: detail.part.y * height,
              width: detail.part.width * width,
              height: detail.part.height * height,
            }}
          >
            <Picture image={comparing ? detail.original : detail.image} />
          </View>
        )}
        {!comparing && <MaskSeen width={width * look.scale} />}
        {zones && image && !framing && <Zones image={image} />}
        {marks && image && !framing && <ClipMarks image={image} />}
        {framing && <CropFrame width={width} height={height} scale={look.scale} />}
        {split && !framing && original && !comparing && <Split original={original} width={width} height={height} scale={look.scale} />}
      </View>
      {greyPick && <GreyPick area={area} picture={{ width, height }} look={look} />}
      {toneDrag && <ToneDrag {...toneDrag} area={area} picture={{ width, height }} look={look} />}
      {dragReady && !toneDrag && !framing && !split && !loupe && (
        <ReadyDrag key={dragReady.layerId} {...dragReady} area={area} picture={{ width, height }} look={look} to={drag} />
      )}
      {!framing && !split && !loupe && !toneDrag && !greyPick && !comparing && (
        <OnPhoto seen={{ area, picture: { width, height }, look }} to={handDrag} />
      )}
      {loupe && !framing && original && <Loupe area={area} picture={{ width, height }} look={look} />}
      {histogram && <Histogram />}
      {zones && !framing && <ZoneScale />}
      {state === 'failed' && (
        <View style={styles.fault}>
          <Text style={type.body}>{message}</Text>
          <Text style={type.small}>{say.viewer.whatYouKeptIsSafeIf}</Text>
        </View>
      )}
      {comparing && (
        <View style={styles.tag} pointerEvents="none">
          <Text style={type.small}>{say.viewer.original}</Text>
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
