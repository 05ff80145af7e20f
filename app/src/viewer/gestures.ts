import { useEffect, useRef, type RefObject } from 'react';
import type { View } from 'react-native';
import { about, type Look } from '../state/look';
import type { PhotoDrag } from '../onPhoto/drag';

interface Handlers {
  readonly look: () => Look;
  readonly change: (look: Look) => void;
  /** The photo is held at a place of the area, or let go. */
  readonly hold: (at: { readonly x: number; readonly y: number } | undefined) => void;
  readonly toggle: (x: number, y: number) => void;
  /** What a finger that is drawn over the photo does; nothing, if nothing can be adjusted so. */
  readonly drag: () => PhotoDrag | undefined;
}

const HOLD_MS = 160;
const SLOP_PX = 6;
const DOUBLE_TAP_MS = 300;
/** The other end of a pen. */
const ERASER = 5;
/** So long after a pen was there a touch is the palm that rests beside it. */
const PALM_MS = 600;

/** Hold, pan, pinch, wheel and double tap on the photo. */
export function useGestures(handlers: Handlers): RefObject<View | null> {
  const ref = useRef<View>(null);
  useEffect(() => {
    const element = ref.current as unknown as HTMLElement | null;
    return element ? followGestures(element, handlers) : undefined;
  }, [handlers]);
  return ref;
}

/** Turns what pointers and wheels do to an element into calls of handlers, until the function that it returns is called. */
export function followGestures(element: HTMLElement, handlers: Handlers): () => void {
  const fingers = new Map<number, { x: number; y: number }>();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let moved = false;
  let holding = false;
  let lastTap = 0;
  let began = { x: 0, y: 0, time: 0 };
  let dragging: PhotoDrag | undefined;
  let lastPen = -Infinity;
  const placeOf = (event: PointerEvent): { x: number; y: number } => {
    const box = element.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const placeNow = (event: PointerEvent): { x: number; y: number; dx: number; dy: number } => ({
    ...placeOf(event),
    dx: event.clientX - began.x,
    dy: event.clientY - began.y,
  });
  const middle = (): { x: number; y: number } => {
    const box = element.getBoundingClientRect();
    return { x: box.left + box.width / 2, y: box.top + box.height / 2 };
  };
  const release = (): void => {
    clearTimeout(timer);
    if (holding) handlers.hold(undefined);
    holding = false;
  };
  const down = (event: PointerEvent): void => {
    const eraser = event.pointerType === 'pen' && event.button === ERASER;
    if (event.button !== 0 && !eraser) return;
    if (event.pointerType === 'pen') lastPen = event.timeStamp;
    else if (event.pointerType === 'touch' && event.timeStamp - lastPen < PALM_MS) return;
    fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
    element.setPointerCapture(event.pointerId);
    release();
    // A second finger zooms: what the first one did is taken back.
    dragging?.cancel();
    dragging = undefined;
    began = { x: event.clientX, y: event.clientY, time: event.timeStamp };
    moved = fingers.size > 1;
    const ready = fingers.size === 1 ? handlers.drag() : undefined;
    if (ready?.atOnce && ready.down(placeOf(event), event)) dragging = ready;
    else if (fingers.size === 1)
      timer = setTimeout(() => {
        holding = true;
        const box = element.getBoundingClientRect();
        handlers.hold({ x: event.clientX - box.left, y: event.clientY - box.top });
      }, HOLD_MS);
  };
  const move = (event: PointerEvent): void => {
    const last = fingers.get(event.pointerId);
    if (event.pointerType === 'pen') lastPen = event.timeStamp;
    if (!last) return event.pointerType === 'touch' ? undefined : handlers.drag()?.hover?.(placeOf(event));
    const now = { x: event.clientX, y: event.clientY };
    const shift = Math.hypot(now.x - last.x, now.y - last.y);
    if (dragging?.atOnce) {
      moved ||= Math.hypot(event.clientX - began.x, event.clientY - began.y) > SLOP_PX / 2;
      fingers.set(event.pointerId, now);
      return dragging.move(placeNow(event), event);
    }
    if (!moved && shift <= SLOP_PX) return;
    // On a busy page the clock may run out before a motion is told that was made in time.
    if (holding && event.timeStamp - began.time >= HOLD_MS) return;
    release();
    moved = true;
    const look = handlers.look();
    const [other] = [...fingers].filter(([id]) => id !== event.pointerId).map(([, at]) => at);
    fingers.set(event.pointerId, now);
    if (!other && look.scale <= 1) {
      const box = element.getBoundingClientRect();
      const ready = dragging ?? handlers.drag();
      if (ready && (dragging || (!ready.atOnce && ready.down({ x: began.x - box.left, y: began.y - box.top }, event)))) {
        dragging = ready;
        ready.move(placeNow(event), event);
      }
      return;
    }
    if (!other) return look.scale > 1 ? handlers.change({ ...look, x: look.x + now.x - last.x, y: look.y + now.y - last.y }) : undefined;
    const before = Math.hypot(last.x - other.x, last.y - other.y);
    const after = Math.hypot(now.x - other.x, now.y - other.y);
    const centre = middle();
    // What lay at the old middle of both fingers lies at their new one.
    const pinched = about(look, after / Math.max(1, before), (last.x + other.x) / 2 - centre.x, (last.y + other.y) / 2 - centre.y);
    handlers.change({ ...pinched, x: pinched.x + (now.x - last.x) / 2, y: pinched.y + (now.y - last.y) / 2 });
  };
  const up = (event: PointerEvent): void => {
    if (!fingers.delete(event.pointerId)) return;
    // By the times of the touch itself: a page that was busy must not take a tap for a hold.
    const wasHeld = holding && event.timeStamp - began.time >= HOLD_MS;
    release();
    const wasDragging = dragging !== undefined;
    if (event.type === 'pointercancel') dragging?.cancel();
    else dragging?.up(moved, event);
    dragging = undefined;
    if (moved || wasDragging || wasHeld || event.type === 'pointercancel') return;
    const box = element.getBoundingClientRect();
    const again = event.timeStamp - lastTap < DOUBLE_TAP_MS;
    if (again) handlers.toggle(event.clientX - box.left, event.clientY - box.top);
    handlers.drag()?.tap?.(again ? undefined : placeOf(event));
    lastTap = event.timeStamp;
  };
  const wheel = (event: WheelEvent): void => {
    event.preventDefault();
    const centre = middle();
    handlers.change(about(handlers.look(), Math.exp(-event.deltaY * 0.0022), event.clientX - centre.x, event.clientY - centre.y));
  };
  const menu = (event: Event): void => event.preventDefault();
  const leave = (): void => handlers.drag()?.hover?.(undefined);
  const following = new AbortController();
  const { signal } = following;
  element.addEventListener('pointerdown', down, { signal });
  element.addEventListener('pointermove', move, { signal });
  element.addEventListener('pointerup', up, { signal });
  element.addEventListener('pointercancel', up, { signal });
  element.addEventListener('pointerleave', leave, { signal });
  element.addEventListener('wheel', wheel, { signal, passive: false });
  element.addEventListener('contextmenu', menu, { signal });
  return () => {
    release();
    following.abort();
  };
}
