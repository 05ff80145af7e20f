import { useEffect, useRef, type RefObject } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { find, kindOf, lacks, partKindOf, type KindLayer, type Layer, type Part, type ParamValue, unit } from '@bexlen/core';
import { hold, letGo } from '../state/held';
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
import { Handles, type Handled } from './Handles';
import { AheadSeen, BrushOutline, ON_PHOTO, Taps } from './Lines';
import { dragged, taken, type Taken } from './handle';
import { minus, numbersOf, type Numbers } from './shapes';
import { beginStroke, cancelStroke, endStroke, moveStroke } from './painting';
import { pickedAt, pickFigure } from './picks';
import { byHalves, halvesOf, waysNow, type Point, type Seen, type Ways } from './places';
import { setBrush, useWhere } from '../state/byHand';
import { say } from '../words';

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
  const [w, h] = halvesOf(seen);
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
      {canvas && <BrushOutline ways={ways} />}
    </>
  );
}

/** Moves, stretches and turns by what a press takes. */
function handleDrag(target: Handled, ways: Ways): PhotoDrag {
  let begun: (Taken & { readonly from: Point; values: Numbers }) | undefined;
  return {
    down: (at) => {
      const pressed = ways.toPlace(at);
      const it = taken(target.handle, target.values, pressed, 1 / ways.scale);
      begun = { ...it, from: minus(pressed, it.off), values: {} };
      return true;
    },
    move: (now) => {
      if (!begun) return;
      begun.values = dragged(target.handle, begun.grip, target.values, begun.from, minus(ways.toPlace(now), begun.off));
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
