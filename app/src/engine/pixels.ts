import {
  isAsItCame,
  longEdge,
  neededOf,
  PAM_TYPE,
  pictureSize,
  readPam,
  PROXY_EDGE,
  proxyOf,
  type Geometry,
  type Patch,
  type Pixels as PhotoPixels,
  type Rect,
  type PhotoProxy,
} from '@bexlen/core';

import { KEEP_HEADER } from '../offline/kept';
import { say } from '../words';

export interface PhotoFile {
  readonly id: string;
  readonly width: number;
  readonly height: number;
}

type Pixels = ReturnType<typeof readPam>;

/** A rectangle of a photo, in its own pixels or smaller ones that fit a long edge. @param keep it is to be at hand when the server is away. */
export const fetchPart = (photo: PhotoFile, { x, y, w, h }: Rect, edge: number, signal: AbortSignal, keep = false): Promise<Pixels> =>
  fetchPixels(photo.id, `x=${x}&y=${y}&w=${w}&h=${h}&edge=${edge}`, signal, keep);

/** The part of a photo that a geometry needs, small enough for a picture of a long edge. */
export async function fetchPatch(
  photo: PhotoFile,
  geometry: Geometry,
  edge: number,
  signal: AbortSignal,
): Promise<{ patch: Patch; pixels: Uint8Array }> {
  if (isAsItCame(geometry)) {
    const { layout, pixels } = await fetchPixels(photo.id, `edge=${edge}`, signal);
    return { patch: { photo, rect: { x: 0, y: 0, w: photo.width, h: photo.height }, layout }, pixels };
  }
  const rect = neededOf(geometry, photo);
  const scale = Math.min(1, edge / longEdge(pictureSize(geometry, photo)));
  const most = Math.max(16, Math.ceil(longEdge({ width: rect.w, height: rect.h }) * scale));
  const { layout, pixels } = await fetchPart(photo, rect, most, signal, true);
  return { patch: { photo, rect, layout }, pixels };
}

/** The whole photo, small. */
export const fetchProxy = async (photo: PhotoFile, signal: AbortSignal): Promise<PhotoProxy> =>
  proxyOf(await fetchPixels(photo.id, `edge=${PROXY_EDGE}`, signal));

/** Another photo that is laid over this one, in a size that was fetched before; nothing, if it is not on the shelf. */
export async function fetchPicture(id: string, edge: number): Promise<PhotoPixels | undefined> {
  const answer = await fetch(`/api/photos/${encodeURIComponent(id)}/pixels?edge=${edge}`, { headers: { Accept: PAM_TYPE } });
  if (answer.status === 404 || answer.status === 400) return undefined;
  if (!answer.ok) throw new Error(say.engine.pictureNotFetched(answer.status));
  const { layout, pixels } = readPam(new Uint8Array(await answer.arrayBuffer()));
  return { layout, bytes: pixels };
}

/** Pixels that were asked for before anybody needed them, by their address; each is given away once. */
const ahead = new Map<string, Promise<Pixels | undefined>>();
/** So long they are kept for whoever needs them. */
const AHEAD_MS = 10_000;

/** Fetches a whole photo to fit a long edge, for a photo that will probably be opened in a moment. */
export function fetchAhead(photoId: string, edge: number): void {
  const key = `${photoId} edge=${edge}`;
  if (ahead.has(key)) return;
  // What goes wrong goes wrong again, and is told, when it is needed.
  ahead.set(
    key,
    fetchNow(photoId, `edge=${edge}`).catch(() => undefined),
  );
  setTimeout(() => ahead.delete(key), AHEAD_MS);
}

async function fetchPixels(photoId: string, query: string, signal: AbortSignal, keep = false): Promise<Pixels> {
  const key = `${photoId} ${query}`;
  const early = ahead.get(key);
  ahead.delete(key);
  const pixels = await early;
  signal.throwIfAborted();
  return pixels ?? fetchNow(photoId, query, signal, keep);
}

async function fetchNow(photoId: string, query: string, signal?: AbortSignal, keep = false): Promise<Pixels> {
  const answer = await fetch(`/api/photos/${photoId}/pixels?${query}`, {
    ...(signal && { signal }),
    headers: { Accept: PAM_TYPE, ...(keep && { [KEEP_HEADER]: '1' }) },
  });
  if (!answer.ok) throw new Error(say.engine.photoNotFetched(answer.status));
  return readPam(new Uint8Array(await answer.arrayBuffer()));
}
