import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { dragged, levelled, pictureSize, shareRatio, turned, isUpright, type Crop, type Grip } from '@bexlen/core';
import { hold, letGo } from '../state/held';
import { usePointer } from '../controls/usePointer';
import { geometry as desk } from '../edits/layers';
import { useBench } from '../state/bench';
import { colour, web } from '../theme/tokens';
import { useFrame } from '../state/view';
import { say } from '../words';

const CROP = 'crop';
/** How near an edge a finger takes it. */
const REACH_PX = 30;
const KEY = 0.01;
const KEYS: Record<string, readonly [number, number]> = { ArrowLeft: [-KEY, 0], ArrowRight: [KEY, 0], ArrowUp: [0, -KEY], ArrowDown: [0, KEY] };

/** The crop over the whole photo: corners, edges and the middle can be dragged. Or a line is drawn that is to lie level. Lies over the shown picture, at its size. */
export function CropFrame({ width, height, scale }: { width: number; height: number; scale: number }) {
  const crop = useBench((state) => state.stack().geometry.crop);
  const { ratio, drawing } = useFrame();
  return drawing ? (
    <LevelLine width={width} height={height} scale={scale} />
  ) : (
    <Handles crop={crop} ratio={ratio} width={width} height={height} scale={scale} />
  );
}

interface HandlesProps {
  readonly crop: Crop;
  readonly ratio: ReturnType<typeof useFrame.getState>['ratio'];
  readonly width: number;
  readonly height: number;
  readonly scale: number;
}

function Handles({ crop, ratio, width, height, scale }: HandlesProps) {
  const work = useRef<{ grip: Grip; start: Crop; next: Crop; share: number | undefined }>(undefined);
  const [dragging, setDragging] = useState(false);
  const share = (): number | undefined => {
    const { photo, stack } = useBench.getState();
    const { geometry } = stack();
    return photo ? shareRatio(ratio, turned(geometry, photo), isUpright(geometry, photo)) : undefined;
  };
  const readout = (next: Crop): string => {
    const { photo, stack } = useBench.getState();
    if (!photo) return '';
    const size = pictureSize({ ...stack().geometry, crop: next }, photo);
    return `${size.width} × ${size.height}`;
  };
  const ref = usePointer({
    down: ({ x, y, event, width: w, height: h }) => {
      event.stopPropagation();
      const near = REACH_PX;
      const side = (at: number, from: number, to: number): -1 | 0 | 1 => (Math.abs(at - from) < near ? -1 : Math.abs(at - to) < near ? 1 : 0);
      const grip = { x: side(x, crop.x * w, (crop.x + crop.width) * w), y: side(y, crop.y * h, (crop.y + crop.height) * h) };
      work.current = { grip, start: crop, next: crop, share: share() };
      setDragging(true);
    },
    move: ({ dx, dy, width: w, height: h, event }) => {
      const it = work.current;
      if (!it) return;
      it.next = dragged(it.start, it.grip, dx / w, dy / h, it.share);
      hold(CROP, { text: readout(it.next), x: event.clientX, y: event.clientY - 34 });
      desk.show({ crop: it.next });
    },
    up: (_drag, moved) => {
      letGo();
      setDragging(false);
      if (moved && work.current) desk.keep({ crop: work.current.next }, say.onPhoto.cropReadout(readout(work.current.next)));
    },
    cancel: () => {
      letGo();
      setDragging(false);
      desk.putBack();
    },
    key: (event) => {
      const way = KEYS[event.key];
      if (!way) return;
      event.preventDefault();
      const grip: Grip = event.shiftKey ? { x: way[0] ? 1 : 0, y: way[1] ? 1 : 0 } : { x: 0, y: 0 };
      const next = dragged(crop, grip, ...way, share());
      desk.keep({ crop: next }, say.onPhoto.cropReadout(readout(next)));
    },
  });
  const [left, top, w, h] = [crop.x * width, crop.y * height, crop.width * width, crop.height * height];
  const thin = 1 / scale;
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={say.onPhoto.cropArrowKeysMoveItWith}
      aria-valuenow={Math.round(crop.width * crop.height * 100)}
      aria-valuetext={say.onPhoto.readoutPixels(readout(crop))}
      tabIndex={0}
      style={[styles.over, { width, height }, web({ touchAction: 'none', cursor: 'move' })]}
    >
      <View style={[styles.shade, { left: 0, top: 0, width, height: top }]} />
      <View style={[styles.shade, { left: 0, top: top + h, width, height: Math.max(0, height - top - h) }]} />
      <View style={[styles.shade, { left: 0, top, width: left, height: h }]} />
      <View style={[styles.shade, { left: left + w, top, width: Math.max(0, width - left - w), height: h }]} />
      <View style={[styles.frame, { left, top, width: w, height: h, borderWidth: thin }]}>
        {dragging &&
          [1 / 3, 2 / 3].map((at) => (
            <View key={at} style={StyleSheet.absoluteFill} pointerEvents="none">
              <View style={[styles.rule, { left: `${at * 100}%`, top: 0, bottom: 0, width: thin }]} />
              <View style={[styles.rule, { top: `${at * 100}%`, left: 0, right: 0, height: thin }]} />
            </View>
          ))}
        {([-1, 1] as const).flatMap((x) =>
          ([-1, 1] as const).map((y) => (
            <View
              key={`${x} ${y}`}
              style={[
                styles.corner,
                {
                  width: 22 * thin,
                  height: 22 * thin,
                  [x < 0 ? 'left' : 'right']: -2 * thin,
                  [y < 0 ? 'top' : 'bottom']: -2 * thin,
                  [x < 0 ? 'borderLeftWidth' : 'borderRightWidth']: 4 * thin,
                  [y < 0 ? 'borderTopWidth' : 'borderBottomWidth']: 4 * thin,
                },
              ]}
            />
          )),
        )}
      </View>
    </View>
  );
}

/** A line drawn along what should be level or plumb. */
function LevelLine({ width, height, scale }: { width: number; height: number; scale: number }) {
  const [line, setLine] = useState<{ x: number; y: number; dx: number; dy: number }>();
  const ref = usePointer({
    down: ({ x, y, event }) => {
      event.stopPropagation();
      setLine({ x, y, dx: 0, dy: 0 });
    },
    move: ({ dx, dy, event }) => {
      setLine((now) => now && { ...now, dx, dy });
      const angle = levelled(useBench.getState().stack().geometry, dx, dy);
      hold(CROP, { text: `${angle.toFixed(1)}°`, x: event.clientX, y: event.clientY - 34 });
    },
    up: ({ dx, dy }, moved) => {
      letGo();
      setLine(undefined);
      if (!moved || Math.hypot(dx, dy) < 24) return;
      const angleDeg = levelled(useBench.getState().stack().geometry, dx, dy);
      useFrame.setState({ drawing: false });
      desk.keep({ angleDeg }, say.onPhoto.straightenedAngle(angleDeg.toFixed(1)));
    },
    cancel: () => {
      letGo();
      setLine(undefined);
    },
  });
  return (
    <View
      ref={ref}
      role="img"
      aria-label={say.onPhoto.drawALineAlongWhatShould}
      style={[styles.over, { width, height }, web({ touchAction: 'none', cursor: 'crosshair' })]}
    >
      {line && (
        <View
          style={[
            styles.level,
            {
              left: line.x / scale,
              top: line.y / scale,
              width: Math.hypot(line.dx, line.dy) / scale,
              height: 2 / scale,
            },
            web({ transform: `rotate(${Math.atan2(line.dy, line.dx)}rad)`, transformOrigin: 'left center' }),
          ]}
        />
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  over: { position: 'absolute', left: 0, top: 0 },
  shade: { position: 'absolute', backgroundColor: 'rgba(16,16,16,0.62)' },
  frame: { position: 'absolute', borderColor: colour.tape },
  rule: { position: 'absolute', backgroundColor: 'rgba(236,224,192,0.55)' },
  corner: { position: 'absolute', borderColor: colour.tape },
  level: { position: 'absolute', backgroundColor: colour.signal },
});
