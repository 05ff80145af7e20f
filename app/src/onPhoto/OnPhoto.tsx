import { useEffect, useRef, type RefObject } from 'react';
import { StyleSheet, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import Svg, { Circle, Path } from 'react-native-svg';
import { find, kindOf, lacks, partKindOf, type KindLayer, type Layer, type Part, type ParamValue, type Sample, unit } from '@bexlen/core';
import { Recede } from '../controls/held';
import { hold, letGo, useHeld } from '../state/held';
import { usePreview } from '../engine/shown';
import { placing } from '../edits/layers';
import { layerTarget, partTarget } from '../edits/target';
import { useBench } from '../state/bench';
import { edgeOf } from '../state/words';
import type { PhotoDrag } from './drag';
import { shareOf } from '../state/look';
import { focusesOf } from '../edits/focus';
import { focusDrag, FocusOnPhoto } from './FocusOnPhoto';
import { aheadDrag } from './ahead';
import { Handles, ON_PHOTO, Scale, type Handled } from './Handles';
import { dragged, taken, type Numbers } from './handle';
import { beginStroke, cancelStroke, endStroke, moveStroke } from './painting';
import { pickedAt, pickFigure } from './picks';
import { waysNow, type Point, type Seen, type Ways } from './places';
import { setBrush, useWhere, type Ahead } from '../state/byHand';
import { say } from '../words';

/** A grip is taken from so far, in pixels of the screen. */
const REACH_PX = 26;

const numbersOf = (params: Readonly<Record<string, ParamValue>>): Numbers =>
  Object.fromEntries(Object.entries(params).flatMap(([name, value]) => (typeof value === 'number' ? [[name, value]] : [])));

/** Half sides of the picture in shares of its long edge: kinds that belong to it are told by them. */
function halves({ picture: { width, height } }: Seen): readonly [number, number] {
  const edge = 2 * Math.max(width, height);
  return [width / edge, height / edge];
}
function byHalves(values: Numbers, [w, h]: readonly [number, number]): Numbers {
  const scale: Record<string, number> = { x: w, width: w, y: h, height: h };
  return Object.fromEntries(Object.entries(values).map(([name, value]) => [name, value * (scale[name] ?? 1)]));
}

/** The controls on the photo of a part, or of a kind. */
function handledOf(layer: Layer | undefined, part: Part | undefined, seen: Seen): Handled | undefined {
  if (!layer || (!part && layer.kind === 'group')) return undefined;
  const { handle, label } = part ? partKindOf(part.part) : kindOf(layer.kind);
  if (!handle) return undefined;
  const target = part ? partTarget(layer, part) : layerTarget(layer as KindLayer);
  const values = numbersOf(target.values);
  const plain = { handle, label, values, onPicture: false, show: target.show };
  if (part) return { ...plain, keep: (to) => target.keep(to, 'moved') };
  if (handle.shape === 'sheet') {
    if (lacks(layer, 'photo')) return undefined;
    const flags = { mirrored: target.values['mirrored'] === 'yes' ? 1 : 0, pulling: useWhere.getState().pulling ? 1 : 0 };
    return {
      ...plain,
      values: { ...values, ...flags },
      show: (to) => placing(layer, to),
      keep: (to) => target.keep(to, say.onPhoto.placedOnThePhoto),
    };
  }
  const onPicture = handle.shape === 'oval' && handle.onPicture === true;
  if (!onPicture) return { ...plain, keep: (to) => target.keep(to, say.onPhoto.movedOnThePhoto) };
  const [w, h] = halves(seen);
  const kept = (to: Numbers): Numbers => byHalves(to, [1 / w, 1 / h]);
  return {
    ...plain,
    values: byHalves(values, [w, h]),
    onPicture,
    show: (to) => target.show(kept(to)),
    keep: (to) => target.keep(kept(to), say.onPhoto.movedOnThePhoto),
  };
}

/** What lies over the photo while a mask or a kind is worked on by hand: handles, the brush. It says what a finger on the photo does. */
export function OnPhoto({ seen, to }: { seen: Seen; to: RefObject<PhotoDrag | undefined> }) {
  const opened = useBench((state) => (state.open === undefined ? undefined : find(state.stack().layers, state.open)));
  const photo = useBench((state) => state.photo);
  const {
    part: partId,
    canvas,
    sizing,
    choosing,
    ahead,
  } = useWhere(useShallow(({ part, canvas, sizing, choosing, ahead }) => ({ part, canvas, sizing, choosing, ahead })));
  const open = choosing ? undefined : opened;
  const part = open?.mask.parts.find(({ id }) => id === partId);
  const focused = canvas || part ? undefined : focusesOf(open);
  const target = canvas ? undefined : handledOf(open, part, seen);
  const ways = waysNow(seen, target?.onPicture ?? false);
  const drag = useRef<PhotoDrag>(undefined);
  useEffect(() => {
    if (!ways) drag.current = undefined;
    else if (choosing) drag.current = aheadDrag(seen, ways);
    else if (canvas) drag.current = sizing ? sizingDrag(ways, edgeOf(photo)) : brushDrag(canvas, ways);
    else if (open && part && partKindOf(part.part).pick) drag.current = pickDrag(open, part, seen, ways, edgeOf(photo));
    else if (focused) drag.current = focusDrag(focused.layer, focused.all, ways);
    else drag.current = target && handleDrag(target, ways);
  });
  const active =
    ways !== undefined &&
    (choosing ||
      canvas !== undefined ||
      focused !== undefined ||
      target !== undefined ||
      (part !== undefined && partKindOf(part.part).pick !== undefined));
  useEffect(() => {
    if (!active) return;
    // A drag goes on as it began, whatever is drawn anew meanwhile.
    let begun: PhotoDrag | undefined;
    const forwarding: PhotoDrag = {
      get atOnce() {
        return (begun ?? drag.current)?.atOnce ?? true;
      },
      down: (at, event) => {
        begun = drag.current;
        return begun?.down(at, event) ?? false;
      },
      move: (now, event) => begun?.move(now, event),
      up: (moved, event) => {
        begun?.up(moved, event);
        begun = undefined;
      },
      cancel: () => {
        begun?.cancel();
        begun = undefined;
      },
      hover: (at) => drag.current?.hover?.(at),
      tap: (at) => drag.current?.tap?.(at),
    };
    to.current = forwarding;
    return () => {
      if (to.current === forwarding) to.current = undefined;
    };
  }, [active, to]);
  if (!ways) return null;
  if (choosing) return ahead ? <AheadSeen ahead={ahead} ways={ways} /> : null;
  return (
    <>
      {focused && <FocusOnPhoto layer={focused.layer} all={focused.all} ways={ways} />}
      {target && <Handles target={target} ways={ways} />}
      {part && <Taps part={part} ways={ways} />}
      {canvas && <Outline ways={ways} />}
    </>
  );
}

/** Where the next layer is to land: its oval, the place that was tapped, or the stroke. */
function AheadSeen({ ahead: { part, line }, ways }: { ahead: Ahead; ways: Ways }) {
  const { handle } = partKindOf(part.part);
  if (part.part === 'spot') return <Taps part={part} ways={ways} />;
  return <Scale handle={handle} values={numbersOf(part.params)} lines={line} ways={ways} />;
}

/** Moves, stretches and turns by what a press takes. */
function handleDrag(target: Handled, ways: Ways): PhotoDrag {
  let begun: { readonly grip: string; readonly from: Point; values: Numbers } | undefined;
  return {
    down: (at) => {
      const from = ways.toPlace(at);
      begun = { grip: taken(target.handle, target.values, from, REACH_PX / ways.scale), from, values: {} };
      return true;
    },
    move: (now) => {
      if (!begun) return;
      begun.values = dragged(target.handle, begun.grip, target.values, begun.from, ways.toPlace(now));
      hold(ON_PHOTO);
      target.show(begun.values);
    },
    up: (moved) => {
      letGo();
      const done = begun;
      begun = undefined;
      if (moved && done) target.keep(done.values);
      else target.show({});
    },
    cancel: () => {
      letGo();
      begun = undefined;
      target.show({});
    },
  };
}

function brushDrag(canvas: Parameters<typeof beginStroke>[0], ways: Ways): PhotoDrag {
  let origin = { x: 0, y: 0 };
  return {
    down: (at, event) => {
      origin = { x: event.clientX - at.x, y: event.clientY - at.y };
      useWhere.setState({ at });
      return beginStroke(canvas, ways, at, event);
    },
    move: (now, event) => {
      useWhere.setState({ at: { x: now.x, y: now.y } });
      moveStroke((each) => ({ x: each.clientX - origin.x, y: each.clientY - origin.y }), event);
    },
    up: (_moved, event) => {
      endStroke();
      if (event.pointerType === 'touch') useWhere.setState({ at: undefined });
    },
    cancel: () => {
      cancelStroke();
      useWhere.setState({ at: undefined });
    },
    hover: (at) => useWhere.setState({ at }),
  };
}

/** Sideways for size, up and down for softness. */
function sizingDrag(ways: Ways, edge: number): PhotoDrag {
  let before = useWhere.getState().brush;
  return {
    down: (at) => {
      before = useWhere.getState().brush;
      useWhere.setState({ at });
      return true;
    },
    move: ({ dx, dy }, event) => {
      const size = Math.min(0.5, Math.max(0.001, before.size + dx / ways.scale / 2));
      const softness = unit(before.softness - dy / 200);
      setBrush({ size, softness });
      hold(ON_PHOTO, { text: `${Math.round(size * edge)} px  ${Math.round(softness * 100)} %`, x: event.clientX, y: event.clientY - 40 });
    },
    up: () => {
      letGo();
      useWhere.setState({ sizing: false });
    },
    cancel: () => {
      letGo();
      setBrush(before);
    },
  };
}

/** A tap takes what is there, a drag on from it sets how much is taken along. A press on a spot's border, or far from all, is a tap too. */
function pickDrag(layer: Layer, part: Part, seen: Seen, ways: Ways, edge: number): PhotoDrag {
  const target = partTarget(layer, part);
  let picked: { readonly values: Record<string, ParamValue>; now: Record<string, ParamValue> } | undefined;
  return {
    down: (at) => {
      const image = part.reads === 'photo' ? usePreview.getState().original : usePreview.getState().frame?.image;
      const { u, v } = shareOf(at, seen.look, seen.area, seen.picture);
      if (!image || u < 0 || v < 0 || u > 1 || v > 1) return false;
      const values = pickedAt(part, image, u, v, ways.toPlace(at));
      picked = { values, now: values };
      target.show(values);
      return true;
    },
    move: ({ dx }, event) => {
      if (!picked) return;
      const { name, value, text } = pickFigure(part, picked.values, dx / 260, edge);
      picked.now = { ...picked.values, [name]: value };
      hold(ON_PHOTO, { text, x: event.clientX, y: event.clientY - 40 });
      target.show(picked.now);
    },
    up: () => {
      letGo();
      if (picked) target.keep(picked.now, say.onPhoto.pickedOnThePhoto);
      picked = undefined;
    },
    cancel: () => {
      letGo();
      picked = undefined;
      target.show({});
    },
  };
}

/** Where the photo was tapped. */
function Taps({ part, ways }: { part: Part; ways: Ways }) {
  const { pick, handle } = partKindOf(part.part);
  const places = pick?.samples ? (part.params[pick.samples] as readonly Sample[]) : [];
  const reach = handle?.shape === 'spot' ? Number(part.params[handle.reach]) * ways.scale : 0;
  return (
    <Recede mine={(id) => id === ON_PHOTO} style={StyleSheet.absoluteFill}>
      <View style={StyleSheet.absoluteFill} pointerEvents="none">
        <Svg width="100%" height="100%">
          {places.map((place, i) => {
            const { x, y } = ways.toScreen(place);
            return [reach, 5]
              .filter((r) => r > 0)
              .flatMap((r) => [
                <Circle key={`d${i}-${r}`} cx={x} cy={y} r={r} fill="none" stroke="rgba(0,0,0,0.55)" strokeWidth={4} />,
                <Circle key={`l${i}-${r}`} cx={x} cy={y} r={r} fill="none" stroke="#fff" strokeWidth={1.5} />,
              ]);
          })}
        </Svg>
      </View>
    </Recede>
  );
}

const SPOKES = 16;
/** Short lines from where a brush of a radius begins to fade to its rim, in a square around it. */
const spokes = (r: number, from: number): string =>
  Array.from({ length: SPOKES }, (_, i) => (2 * Math.PI * i) / SPOKES)
    .map((way) => [Math.cos(way), Math.sin(way)] as const)
    .map(([x, y]) => `M${r + from * x} ${r + from * y}L${r + r * x} ${r + r * y}`)
    .join('');

/** The brush at its true size: its rim, and from where on it fades. */
function Outline({ ways }: { ways: Ways }) {
  const { at, brush, sizing } = useWhere(useShallow(({ at, brush, sizing }) => ({ at, brush, sizing })));
  const held = useHeld(({ id }) => id?.startsWith('brush-') === true || id === ON_PHOTO);
  const place: Partial<Point> | undefined = at ?? (held || sizing ? {} : undefined);
  if (!place) return null;
  const r = brush.size * ways.scale;
  const lines = `M${2 * r} ${r}A${r} ${r} 0 1 1 0 ${r}A${r} ${r} 0 1 1 ${2 * r} ${r}${spokes(r, r * (1 - brush.softness))}`;
  return (
    <View pointerEvents="none" style={[styles.outline, { left: place.x ?? '50%', top: place.y ?? '50%', width: 2 * r, height: 2 * r, margin: -r }]}>
      <Svg width="100%" height="100%" style={styles.over}>
        <Path d={lines} fill="none" stroke="rgba(0,0,0,0.55)" strokeWidth={3} />
        <Path d={lines} fill="none" stroke="#fff" strokeWidth={1} />
      </Svg>
    </View>
  );
}

const styles = StyleSheet.create({
  outline: { position: 'absolute' },
  over: { overflow: 'visible' },
});
