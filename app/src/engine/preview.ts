import equal from 'fast-deep-equal';
import { shallow } from 'zustand/shallow';
import { beforeLayers, clamp, filmPlaceOf, reachOf, wholeCrop, type Geometry, type Rect, type Stack } from '@bexlen/core';
import type { Photo } from '@bexlen/api';
import { inForce, notify, show, useBench } from '../state/bench';
import { forgetResources } from '../state/strokes';
import { followDetail } from './detail';
import { nothing, seenStack, useFraming, usePreview } from './shown';
import type { Frame } from './frame';
import { Studio, type Small } from './studio';
import { followScreen } from './device';
import { say } from '../words';

/** How long to wait before a photo is asked for again. */
const RETRY_MS = 1500;

let studio: Studio | undefined;
let starting: Promise<Studio> | undefined;

/** Starts the engine, unless it runs. @throws {TypeError} while the server is away; an Error where the browser cannot compute. */
export async function beginEngine(): Promise<void> {
  await theStudio();
}

async function theStudio(): Promise<Studio> {
  starting ??= (async () => {
    const fresh = new Studio(Studio.workerCount(), (message) => usePreview.setState({ state: 'failed', message }), notify);
    try {
      await fresh.begin();
    } catch (error) {
      fresh.end();
      starting = undefined;
      // The server being away is told apart, and tried again.
      if (error instanceof TypeError) throw error;
      throw new Error(say.engine.thisBrowserCannotComputePictures, { cause: error });
    }
    studio = fresh;
    return fresh;
  })();
  return starting;
}

const geometryNow = (): Geometry => {
  const { geometry } = useBench.getState().stack();
  return useFraming.getState().framing ? { ...geometry, crop: wholeCrop } : geometry;
};

/** The photo that was shown last. */
let lastId: string | undefined;
/** Lets go of what the stacks of another photo named. A photo that is shown anew, at another size or after a look at the shelf, keeps its own: the server may be away. */
function forgetOthers(photoId: string): void {
  if (lastId !== undefined && lastId !== photoId) {
    studio?.forget();
    forgetResources();
  }
  lastId = photoId;
}

/** Opens a photo and keeps the picture of the bench's stack up to date until it is left. */
export function showPhoto(photo: Photo, edge: number): () => void {
  forgetOthers(photo.id);
  const gone = new AbortController();
  usePreview.setState({ state: 'opening', ...nothing });
  let stop = (): void => undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const open = async (): Promise<void> => {
    try {
      const engine = await theStudio();
      const geometry = geometryNow();
      await engine.open(photo, geometry, edge, gone.signal);
      if (gone.signal.aborted) return;
      await showOriginal(engine);
      if (gone.signal.aborted) return;
      usePreview.setState({ state: 'ready', message: '' });
      stop = follow(engine, photo, edge, geometry, gone.signal);
    } catch (error) {
      if (gone.signal.aborted) return;
      const away = error instanceof TypeError;
      const message = away ? say.engine.theServerCannotBeReachedThe : error instanceof Error ? error.message : String(error);
      usePreview.setState({ state: 'failed', message });
      if (away) timer = setTimeout(() => void open(), RETRY_MS);
    }
  };
  void open();
  return () => {
    gone.abort();
    clearTimeout(timer);
    stop();
    // What comes next is not to be seen with the picture of this one.
    usePreview.setState({ state: 'idle', ...nothing });
  };
}

const showOriginal = (engine: Studio): Promise<void> =>
  new Promise((resolve) =>
    engine.render({
      stack: beforeLayers(inForce(useBench.getState().history)),
      done: ({ image }) => (usePreview.setState({ original: image }), resolve()),
    }),
  );

function follow(engine: Studio, photo: Photo, edge: number, opened: Geometry, signal: AbortSignal): () => void {
  let shown = opened;
  /** How the photo before the layers was developed when it was last made. */
  let { development: developed } = inForce(useBench.getState().history);
  let opening: AbortController | undefined;
  const draw = (): void => {
    const { open, draft } = useBench.getState();
    const done = (frame: Frame): void => {
      const { frame: before } = usePreview.getState();
      usePreview.setState({ frame, patch: undefined, ...(frame.tones && { tones: frame.tones }) });
      before?.seen?.close();
    };
    engine.render({ stack: seenStack(), watch: open, moving: draft !== undefined, passing: true, done });
  };
  let shaping = false;
  /** Only the working picture was shaped: the coarse and the small one are behind. */
  let behind = false;
  /** The photo with another geometry, fetched anew. What was seen stays until it is there. */
  const reopen = async (geometry: Geometry): Promise<void> => {
    opening?.abort();
    opening = new AbortController();
    const either = AbortSignal.any([signal, opening.signal]);
    try {
      await engine.open(photo, geometry, edge, either);
      await showOriginal(engine);
      if (!either.aborted) draw();
    } catch (error) {
      if (either.aborted) return;
      usePreview.setState({ state: 'failed', message: error instanceof Error ? error.message : String(error) });
    }
  };
  /** The photo with another geometry out of what is at hand, while it is being chosen; the newest one wins. */
  const reshape = async (): Promise<void> => {
    if (shaping) return;
    shaping = true;
    behind = true;
    for (let geometry = geometryNow(); ; geometry = geometryNow()) {
      engine.reshape(geometry, edge);
      await showOriginal(engine);
      if (equal(geometry, geometryNow())) break;
    }
    shaping = false;
    if (!signal.aborted) draw();
  };
  const update = (): void => {
    const { draft } = useBench.getState();
    if (draft !== undefined && draft === usePreview.getState().painted) return;
    const { development } = inForce(useBench.getState().history);
    if (!equal(development, developed)) {
      developed = development;
      void showOriginal(engine);
    }
    const geometry = geometryNow();
    const { framing } = useFraming.getState();
    if (equal(geometry, shown) && (framing || !behind)) return shaping ? undefined : draw();
    shown = geometry;
    if (framing && engine.holdsWhole) return void reshape();
    behind = false;
    void reopen(geometry);
  };
  draw();
  const stops = [
    useBench.subscribe(({ history, draft, solo, open }) => [history, draft, solo, open], update, { equalityFn: shallow }),
    useFraming.subscribe(update),
    followDetail(engine, photo),
    followScreen(() => void showOriginal(engine).then(draw)),
    () => opening?.abort(),
  ];
  return () => stops.forEach((stop) => stop());
}

/** More than this share of the picture is made as a whole. */
const MOST_PART = 0.5;

/** Shows a stack in which something is painted on; `area`, in shares of the picture, is where it differs from what is seen. */
export function paintOn(stack: Stack, { x, y, w, h }: Rect): void {
  const size = studio?.size;
  const whole = !size || w * h > MOST_PART;
  usePreview.setState({ painted: whole ? undefined : stack });
  show(stack);
  if (whole || !studio) return;
  const [left, top] = [clamp(Math.floor(x * size.width) - 1, 0, size.width - 1), clamp(Math.floor(y * size.height) - 1, 0, size.height - 1)];
  const area = {
    x: left,
    y: top,
    w: Math.max(1, clamp(Math.ceil((x + w) * size.width) + 1, 0, size.width) - left),
    h: Math.max(1, clamp(Math.ceil((y + h) * size.height) + 1, 0, size.height) - top),
  };
  studio.paint({ stack: seenStack(), area, done: (image, at) => usePreview.setState({ patch: { image, x: at.x, y: at.y } }) });
}

/** A part of the picture at full size as it came and with a stack, once it is there. What is in sight close up uses the same place of the engine: only one of both at a time. */
export function closeUp(
  photo: Photo,
  area: Rect,
  stack: Stack,
  signal: AbortSignal,
  done: (both: { before: ImageData; after: ImageData }) => void,
): void {
  const engine = studio;
  if (!engine) return;
  const reach = Math.min(MOST_REACH, reachOf(stack, filmPlaceOf(photo)));
  engine.openDetail(photo, stack.geometry, area, reach, signal).then(
    ({ patch }) => {
      if (signal.aborted) return;
      const inside = { ...area, x: area.x - patch.x, y: area.y - patch.y };
      engine.renderDetail(beforeLayers(stack), inside, ({ image: before }) => {
        if (!signal.aborted) engine.renderDetail(stack, inside, ({ image: after }) => signal.aborted || done({ before, after }));
      });
    },
    // Where the server is away the working size goes on being shown.
    () => undefined,
  );
}
/** Pixels around a part that are fetched at most; a larger blur reads a little less far than it should. */
const MOST_REACH = 1200;

/** Pictures of some stacks in working size, one after another; what is on the bench is not drawn meanwhile. Returns how to stop. */
export function largePictures(stacks: readonly Stack[], done: (index: number, image: ImageData) => void): () => void {
  let stopped = false;
  const make = (i: number): void => {
    const stack = stacks[i];
    if (!stack || stopped || !studio) return;
    studio.render({
      stack,
      done: ({ image }) => {
        if (stopped) return;
        done(i, image);
        make(i + 1);
      },
    });
  };
  make(0);
  return () => {
    stopped = true;
  };
}

/** The mask of a layer of the stack as it is seen: to be looked at, or only to be measured. */
export const seeMask = (mask: string, looked: boolean, done: (image: ImageData) => void): void =>
  studio?.renderMask({ stack: useBench.getState().stack(), mask, looked, done });

/** Small pictures of stacks, for the rack and for blend modes, or of masks. Returns how to stop waiting for them. */
export function smallPictures(stacks: readonly Small[], done: (index: number, image: ImageData) => void): () => void {
  return studio?.renderSmall(stacks, done) ?? (() => undefined);
}
