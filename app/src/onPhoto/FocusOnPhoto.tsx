import { StyleSheet, View } from 'react-native';
import Svg, { Circle } from 'react-native-svg';
import { focusShapeOf, type Focus, type KindLayer } from '@bexlen/core';
import { Recede } from '../controls/held';
import { hold, letGo } from '../state/held';
import { usePointer } from '../controls/usePointer';
import type { PhotoDrag } from './drag';
import { FaderCap, Handles, type Handled } from './Handles';
import { LightLine, ON_PHOTO } from './Lines';
import { dragged, taken, type Taken } from './handle';
import { minus, numbersOf, type Numbers } from './shapes';
import type { Point, Ways } from './places';
import { tickLength } from './scale';
import { useWhere } from '../state/byHand';
import { chosenOf, focus as edits } from '../edits/focus';
import { focusTarget } from '../edits/target';
import { say } from '../words';

/** A pin is taken from so far, and held so long to be removed. */
const REACH_PX = 26;
const REMOVE_MS = 600;
const WHOLE: Taken = { grip: 'move', off: { x: 0, y: 0 } };

/** What the handle of a band or an oval works on, as numbers. */
export function handledOf(layer: KindLayer, it: Focus): Handled {
  const { handle, label } = focusShapeOf(it.shape);
  const target = focusTarget(layer, it);
  return {
    handle,
    label,
    values: { ...numbersOf(it.params), apart: it.params['ends'] === 'apart' ? 1 : 0 },
    onPicture: false,
    show: target.show,
    keep: (values) => target.keep(values, say.onPhoto.movedOnThePhoto),
  };
}

const pinAt = (pins: readonly Focus[], at: Point, reach: number): Focus | undefined =>
  pins
    .map((pin) => ({ pin, off: Math.hypot(Number(pin.params['x']) - at.x, Number(pin.params['y']) - at.y) }))
    .filter(({ off }) => off <= reach)
    .sort((a, b) => a.off - b.off)[0]?.pin;

/**
 * A finger on the photo: a pin nearby is moved, or removed if it is held still; else the band or oval that is worked on is moved, stretched or turned; where pins are
 * worked on, a tap adds one. While something moves, what stays sharp is hatched.
 */
export function focusDrag(layer: KindLayer, all: readonly Focus[], ways: Ways): PhotoDrag {
  const pins = all.filter(({ shape }) => shape === 'pin');
  let begun: (Taken & { readonly it: Focus | undefined; readonly from: Point; values: Numbers }) | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const ends = (): typeof begun => {
    clearTimeout(timer);
    letGo();
    useWhere.setState({ focusing: false });
    const done = begun;
    begun = undefined;
    return done;
  };
  return {
    down: (at) => {
      const from = ways.toPlace(at);
      const chosen = chosenOf(all, useWhere.getState().focus);
      const pin = pinAt(pins, from, REACH_PX / ways.scale);
      if (pin) {
        begun = { it: pin, ...WHOLE, from, values: {} };
        useWhere.setState({ focus: pin.id });
        timer = setTimeout(() => {
          const held = ends();
          if (held?.it) edits.remove(layer.id, held.it.id);
        }, REMOVE_MS);
      } else if (chosen && chosen.shape !== 'pin') {
        const { handle, values } = handledOf(layer, chosen);
        const it = taken(handle, values, from, 1 / ways.scale);
        begun = { it: chosen, ...it, from: minus(from, it.off), values: {} };
      } else begun = { it: undefined, ...WHOLE, from, values: {} };
      return true;
    },
    move: (now) => {
      if (!begun?.it || Math.hypot(now.dx, now.dy) < 3) return;
      clearTimeout(timer);
      const { handle, values } = handledOf(layer, begun.it);
      begun.values = dragged(handle, begun.grip, values, begun.from, minus(ways.toPlace(now), begun.off));
      hold(ON_PHOTO);
      useWhere.setState({ focusing: true });
      focusTarget(layer, begun.it).show(begun.values);
    },
    up: (moved) => {
      const done = ends();
      if (!done) return;
      if (!done.it) return edits.add(layer.id, 'pin', { x: done.from.x, y: done.from.y });
      if (moved && Object.keys(done.values).length > 0) focusTarget(layer, done.it).keep(done.values, say.onPhoto.movedOnThePhoto);
      else focusTarget(layer, done.it).show({});
    },
    cancel: () => {
      const done = ends();
      if (done?.it) focusTarget(layer, done.it).show({});
    },
  };
}

/** The chosen band or oval with its grips, and all pins. */
export function FocusOnPhoto({ layer, all, ways }: { layer: KindLayer; all: readonly Focus[]; ways: Ways }) {
  const chosen = chosenOf(
    all,
    useWhere((state) => state.focus),
  );
  const pins = all.filter(({ shape }) => shape === 'pin');
  return (
    <>
      {chosen && chosen.shape !== 'pin' && <Handles target={handledOf(layer, chosen)} ways={ways} />}
      {pins.length > 0 && (
        <Recede mine={(id) => id === ON_PHOTO || id.startsWith('focus-')} style={StyleSheet.absoluteFill}>
          <View style={StyleSheet.absoluteFill} pointerEvents="none">
            <Svg width="100%" height="100%">
              {pins.map((pin) => (
                <PinCap key={pin.id} pin={pin} chosen={pin.id === chosen?.id} ways={ways} />
              ))}
            </Svg>
          </View>
          {pins.map((pin, i) => (
            <PinKeys key={pin.id} layer={layer} pin={pin} label={say.onPhoto.pinI(i + 1)} ways={ways} />
          ))}
        </Recede>
      )}
    </>
  );
}

const placeOf = ({ params }: Focus): Point => ({ x: Number(params['x']), y: Number(params['y']) });

/** Marks beside a pin's cap, from sharp at the foot to all the blur there is at the head; the cap stands as far up as its blur. */
const SCALE = { high: 44, marks: 5, off: 11 };

/** A pin as a small fader that stands where it is: its foot is the place, its cap is as high as its blur. */
function PinCap({ pin, chosen, ways }: { pin: Focus; chosen: boolean; ways: Ways }) {
  const { x, y } = ways.toScreen(placeOf(pin));
  const high = chosen ? SCALE.high : SCALE.high * 0.65;
  const cap = y - Number(pin.params['blur']) * high;
  const marks = Array.from({ length: SCALE.marks }, (_, i) => i / (SCALE.marks - 1))
    .map((share) => `M${x + SCALE.off} ${y - share * high}h${tickLength(share) * (chosen ? 0.8 : 0.5)}`)
    .join('');
  const path = `M${x} ${y}V${y - high}${marks}`;
  return (
    <>
      <Circle cx={x} cy={y} r={3} fill="#fff" stroke="rgba(0,0,0,0.6)" strokeWidth={2} />
      <LightLine d={path} />
      <FaderCap x={x} y={cap} turn={90} scale={chosen ? 0.9 : 0.65} />
    </>
  );
}

const ARROWS: Record<string, readonly [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** A pin for keys and screen readers: arrows move it, Delete removes it. */
function PinKeys({ layer, pin, label, ways }: { layer: KindLayer; pin: Focus; label: string; ways: Ways }) {
  const { x, y } = ways.toScreen(placeOf(pin));
  const ref = usePointer({
    down: () => false,
    key: (event) => {
      const arrow = ARROWS[event.key];
      if (event.key === 'Delete' || event.key === 'Backspace') edits.remove(layer.id, pin.id);
      else if (arrow) {
        const step = (event.shiftKey ? 20 : 2) / ways.scale;
        const at = placeOf(pin);
        focusTarget(layer, pin).keep({ x: at.x + arrow[0] * step, y: at.y + arrow[1] * step }, say.onPhoto.movedOnThePhoto);
      } else return;
      event.preventDefault();
    },
  });
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={label}
      aria-valuetext={say.onPhoto.blurWhat(Math.round(Number(pin.params['blur']) * 100))}
      tabIndex={0}
      pointerEvents="none"
      style={[styles.pin, { left: x - 22, top: y - 22 }]}
    />
  );
}

const styles = StyleSheet.create({
  pin: { position: 'absolute', width: 44, height: 44, borderRadius: 22 },
});
