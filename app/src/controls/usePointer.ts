import { useEffect, useRef, type RefObject } from 'react';
import type { View } from 'react-native';

export interface Drag {
  /** Pixels from where the press began. */
  readonly dx: number;
  readonly dy: number;
  /** Place within the element, in pixels. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly event: PointerEvent;
}

export interface PointerHandlers {
  readonly down?: (drag: Drag) => boolean | void;
  readonly move?: (drag: Drag) => void;
  readonly up?: (drag: Drag, moved: boolean) => void;
  /** The press was taken away: nothing is to be kept. */
  readonly cancel?: () => void;
  readonly key?: (event: KeyboardEvent) => void;
}

/** Movement below this is a tap. */
const SLOP_PX = 3;

/**
 * Presses and keys on an element, by touch, mouse and pen alike. The press is captured: it goes on outside the element. `down` may
 * answer false to let a press pass.
 */
export function usePointer(handlers: PointerHandlers): RefObject<View | null> {
  const ref = useRef<View>(null);
  const latest = useRef(handlers);
  useEffect(() => {
    latest.current = handlers;
  });
  useEffect(() => {
    const element = ref.current as unknown as HTMLElement | null;
    // Page events are there on the web target only.
    if (typeof element?.addEventListener !== 'function') return;
    let start: { x: number; y: number; id: number; moved: boolean } | undefined;
    const dragOf = (event: PointerEvent): Drag => {
      const box = element.getBoundingClientRect();
      return {
        dx: event.clientX - (start?.x ?? event.clientX),
        dy: event.clientY - (start?.y ?? event.clientY),
        x: event.clientX - box.left,
        y: event.clientY - box.top,
        width: box.width,
        height: box.height,
        event,
      };
    };
    const down = (event: PointerEvent): void => {
      if (start || event.button !== 0) return;
      if (latest.current.down?.(dragOf(event)) === false) return;
      start = { x: event.clientX, y: event.clientY, id: event.pointerId, moved: false };
      element.setPointerCapture(event.pointerId);
    };
    const move = (event: PointerEvent): void => {
      if (start?.id !== event.pointerId) return;
      const drag = dragOf(event);
      start.moved ||= Math.hypot(drag.dx, drag.dy) > SLOP_PX;
      if (start.moved) latest.current.move?.(drag);
    };
    const up = (event: PointerEvent): void => {
      if (start?.id !== event.pointerId) return;
      const [drag, { moved }] = [dragOf(event), start];
      start = undefined;
      latest.current.up?.(drag, moved);
    };
    const cancel = (event: PointerEvent): void => {
      if (start?.id !== event.pointerId) return;
      start = undefined;
      latest.current.cancel?.();
    };
    const key = (event: KeyboardEvent): void => latest.current.key?.(event);
    element.addEventListener('pointerdown', down);
    element.addEventListener('pointermove', move);
    element.addEventListener('pointerup', up);
    element.addEventListener('pointercancel', cancel);
    element.addEventListener('keydown', key);
    return () => {
      element.removeEventListener('pointerdown', down);
      element.removeEventListener('pointermove', move);
      element.removeEventListener('pointerup', up);
      element.removeEventListener('pointercancel', cancel);
      element.removeEventListener('keydown', key);
    };
  }, []);
  return ref;
}
