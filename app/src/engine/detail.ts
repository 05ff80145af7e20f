import { create } from 'zustand';
import { shallow } from 'zustand/shallow';
import { beforeLayers, filmPlaceOf, pictureSize, reachOf, type Crop, type Geometry, type Rect } from '@bexlen/core';
import { useBench } from '../state/bench';
import { seenStack, useFraming, usePreview } from './shown';
import type { PhotoFile } from './pixels';
import type { Detail, Studio } from './studio';

/** The part of the picture that is in sight, as shares, where one pixel of the screen is less than one of the working size. The viewer writes it. */
export const useSight = create<{ readonly part: Crop | undefined }>(() => ({ part: undefined }));

/** What is looked at and what is done to it must rest so long before the full size is asked for. */
const REST_MS = 140;
/** A detail that takes no longer than this follows a held control. */
const QUICK_MS = 60;
/** Pixels that are shown at most, and that are fetched at most; a larger blur then reads a little less far than it should. */
const MOST_SHOWN = 6e6;
const MOST_FETCHED = 28e6;

/** Keeps what is in sight of the picture at full size up to date. Returns how to stop. */
export function followDetail(engine: Studio, photo: PhotoFile): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let fetching: AbortController | undefined;
  let held: { readonly detail: Detail; readonly geometry: Geometry; readonly reach: number } | undefined;
  let lastMs = 0;

  const look = async (): Promise<void> => {
    const { part } = useSight.getState();
    const stack = seenStack();
    const { geometry } = stack;
    const picture = pictureSize(geometry, photo);
    const area = part && areaOf(part, picture);
    if (!area || useFraming.getState().framing || area.w * area.h > MOST_SHOWN) return hide();
    const wanted = reachOf(stack, filmPlaceOf(photo));
    const reach = Math.min(wanted, Math.floor((Math.sqrt(MOST_FETCHED) - Math.max(area.w, area.h)) / 2));
    fetching?.abort();
    fetching = new AbortController();
    const { signal } = fetching;
    try {
      if (!held || held.geometry !== geometry || held.reach < reach || !covers(held.detail, area, reach))
        held = { detail: await engine.openDetail(photo, geometry, area, reach, signal), geometry, reach };
    } catch (error) {
      if (!signal.aborted) held = undefined;
      if (error instanceof DOMException || error instanceof TypeError) return;
      throw error;
    }
    if (signal.aborted || !held) return;
    const { patch } = held.detail;
    const inside = { ...area, x: area.x - patch.x, y: area.y - patch.y };
    engine.renderDetail(beforeLayers(stack), inside, ({ image: original }) => {
      if (signal.aborted) return;
      engine.renderDetail(stack, inside, ({ image, ms }) => {
        if (signal.aborted) return;
        lastMs = ms;
        const shares = { x: area.x / picture.width, y: area.y / picture.height, width: area.w / picture.width, height: area.h / picture.height };
        usePreview.setState({ detail: { image, original, part: shares } });
      });
    });
  };
  const hide = (): void => {
    fetching?.abort();
    if (usePreview.getState().detail) usePreview.setState({ detail: undefined });
  };
  const later = (): void => {
    clearTimeout(timer);
    const quick = lastMs > 0 && lastMs < QUICK_MS;
    if (!quick) hide();
    timer = setTimeout(() => void look(), quick ? 0 : REST_MS);
  };
  const stops = [
    useSight.subscribe(later),
    useFraming.subscribe(later),
    useBench.subscribe(({ history, draft, solo }) => [history, draft, solo], later, { equalityFn: shallow }),
  ];
  later();
  return () => {
    clearTimeout(timer);
    hide();
    stops.forEach((stop) => stop());
  };
}

/** Whole pixels of the picture that a part of it takes in. */
function areaOf({ x, y, width, height }: Crop, picture: { width: number; height: number }): Rect {
  const [left, top] = [Math.max(0, Math.floor(x * picture.width)), Math.max(0, Math.floor(y * picture.height))];
  return {
    x: left,
    y: top,
    w: Math.max(1, Math.min(picture.width, Math.ceil((x + width) * picture.width)) - left),
    h: Math.max(1, Math.min(picture.height, Math.ceil((y + height) * picture.height)) - top),
  };
}

/** Whether what is at hand holds an area with all that it reaches for. */
function covers({ patch, picture }: Detail, { x, y, w, h }: Rect, reach: number): boolean {
  return (
    patch.x <= Math.max(0, x - reach) &&
    patch.y <= Math.max(0, y - reach) &&
    patch.x + patch.w >= Math.min(picture.width, x + w + reach) &&
    patch.y + patch.h >= Math.min(picture.height, y + h + reach)
  );
}
