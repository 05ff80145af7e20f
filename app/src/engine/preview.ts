import { create } from 'zustand';
import { emptyStack, longEdge, soloed, type Stack, type Tones } from '@bexlen/core';
import { PIXEL_EDGES } from '@bexlen/server/api';
import { useBench } from '../state/bench';
import { Studio, type Frame } from './studio';

interface Preview {
  readonly state: 'idle' | 'opening' | 'ready' | 'failed';
  readonly message: string;
  readonly original: ImageData | undefined;
  readonly frame: Frame | undefined;
  readonly tones: Tones | undefined;
}

/** What the viewer shows. The engine writes it, components read it. */
export const usePreview = create<Preview>(() => ({ state: 'idle', message: '', original: undefined, frame: undefined, tones: undefined }));

/** How long to wait before a photo is asked for again. */
const RETRY_MS = 1500;

let studio: Studio | undefined;
let starting: Promise<Studio> | undefined;

async function theStudio(): Promise<Studio> {
  starting ??= (async () => {
    const fresh = new Studio(Studio.hands(), (message) => usePreview.setState({ state: 'failed', message }));
    await fresh.begin();
    studio = fresh;
    return fresh;
  })();
  return starting;
}

/** The least working size that fills a screen. */
export function workingEdge(screen: { width: number; height: number; scale: number }): number {
  const wanted = longEdge(screen) * Math.min(screen.scale, 2);
  return PIXEL_EDGES.find((edge) => edge >= wanted && edge > 256) ?? PIXEL_EDGES[PIXEL_EDGES.length - 1] ?? 2048;
}

/** Opens a photo and keeps the picture of the bench's stack up to date until it is left. */
export function showPhoto(photoId: string, edge: number): () => void {
  const gone = new AbortController();
  usePreview.setState({ state: 'opening', message: '', original: undefined, frame: undefined, tones: undefined });
  let stop = (): void => undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const open = async (): Promise<void> => {
    try {
      const engine = await theStudio();
      await engine.open(photoId, edge, gone.signal);
      if (gone.signal.aborted) return;
      await new Promise<void>((resolve) =>
        engine.render(emptyStack, undefined, ({ image }) => (usePreview.setState({ original: image }), resolve())),
      );
      if (gone.signal.aborted) return;
      usePreview.setState({ state: 'ready', message: '' });
      stop = follow(engine);
    } catch (error) {
      if (gone.signal.aborted) return;
      const away = error instanceof TypeError;
      const message = away
        ? 'The server cannot be reached. The photo comes when it is back.'
        : error instanceof Error
          ? error.message
          : String(error);
      usePreview.setState({ state: 'failed', message });
      if (away) timer = setTimeout(() => void open(), RETRY_MS);
    }
  };
  void open();
  return () => {
    gone.abort();
    clearTimeout(timer);
    stop();
  };
}

function follow(engine: Studio): () => void {
  const draw = (): void => {
    const { stack, solo, open } = useBench.getState();
    engine.render(soloed(stack(), solo), open, (frame) => usePreview.setState(frame.tones ? { frame, tones: frame.tones } : { frame }));
  };
  draw();
  return useBench.subscribe((now, before) => {
    if (now.stack() !== before.stack() || now.draft !== before.draft || now.solo !== before.solo || now.open !== before.open) draw();
  });
}

/** Small pictures of stacks, for the rack and for blend modes. Returns how to stop waiting for them. */
export function smallPictures(stacks: readonly Stack[], done: (index: number, image: ImageData) => void): () => void {
  return studio?.renderSmall(stacks, done) ?? (() => undefined);
}
