import { create } from 'zustand';
import type { LookOrder, Photo, PhotoChange, Roll } from '@bexlen/api';
import { hear, useReach } from '../state/news';
import { sentenceOf, server } from '../state/server';

interface ShelfState {
  readonly photos: readonly Photo[];
  /** Folders of the shelf, the newest first. */
  readonly rolls: readonly Roll[];
  readonly state: 'opening' | 'ready' | 'failed';
  readonly message: string;
  /** The photos put into the bin last, for as long as they can be taken back with one tap. */
  readonly binned: readonly Photo[];
  /** Photos that were to be deleted for good and that others would lose. */
  readonly needed: readonly Photo[];
  /** What a look was put on last, for as long as it can be taken back with one tap. */
  readonly put: { readonly name: string; readonly ids: readonly string[] } | undefined;
  /** The photo that is read about. */
  readonly about: string | undefined;
}

export const useShelf = create<ShelfState>(() => ({
  photos: [],
  rolls: [],
  state: 'opening',
  message: '',
  binned: [],
  needed: [],
  put: undefined,
  about: undefined,
}));
const { setState } = useShelf;

export async function openShelf(): Promise<void> {
  try {
    const [{ photos, unread }, rolls] = await Promise.all([server.photos(), server.rolls()]);
    setState({ photos, rolls, state: 'ready', message: unread > 0 ? cannotRead(unread) : '' });
  } catch (error) {
    setState({ state: 'failed', message: sentenceOf(error) });
  }
}

/** Changes elsewhere that come close together are fetched once. */
const TOGETHER_MS = 700;

/** Opens the shelf and keeps it as the server has it, for as long as it is looked at. */
export function followShelf(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const soon = (): void => {
    timer ??= setTimeout(() => {
      timer = undefined;
      void openShelf();
    }, TOGETHER_MS);
  };
  void openShelf();
  const stops = [hear('shelf', soon), useReach.subscribe((now, before) => now.reach === 'here' && before.reach === 'away' && soon())];
  return () => {
    // What was to be fetched is fetched all the same: the shelf may be opened next without the server.
    if (timer !== undefined) void openShelf();
    clearTimeout(timer);
    stops.forEach((stop) => stop());
  };
}

const cannotRead = (count: number): string =>
  `${count === 1 ? 'One photo' : `${count} photos`} could not be read and ${count === 1 ? 'is' : 'are'} not shown. The files are kept; a newer Bexlen may read them.`;

/** A photo as it is now, new or known. */
export const replace = (photo: Photo): void =>
  setState(({ photos }) => ({
    photos: photos.some(({ id }) => id === photo.id) ? photos.map((old) => (old.id === photo.id ? photo : old)) : [photo, ...photos],
  }));

/** Gives a version of a photo another name. */
export async function renameVersion(photo: Photo, id: string, name: string): Promise<void> {
  try {
    await server.renameVersion(id, name);
    replace(await server.photo(photo.id));
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
}

/** Reads about a photo: its facts, versions and exports. */
export const readAbout = (id: string | undefined): void => setState({ about: id });

/** Changes a photo on the server, then here. Says so where it cannot. */
export async function changePhoto(photo: Photo, change: PhotoChange): Promise<void> {
  try {
    replace(await server.changePhoto(photo.id, change));
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
}

/** Puts photos into the bin, or takes them back. */
export async function binPhotos(photos: readonly Photo[], binned: boolean): Promise<void> {
  await Promise.all(photos.map((photo) => changePhoto(photo, { binned })));
  setState({ binned: binned ? photos : [] });
}

/** Puts a look on photos, each as a new version; they can be taken back with one tap. Returns the ids of the versions. Throws the server's refusal. */
export async function putLookOn(lookId: string, name: string, order: LookOrder): Promise<string[]> {
  const { versions } = await server.putLook(lookId, order);
  const ids = versions.map(({ id }) => id);
  setState({ put: { name, ids } });
  await openShelf();
  return ids;
}

/** Takes back what a look made; what was changed since stays. */
export async function takeLookBack(ids: readonly string[]): Promise<void> {
  try {
    const { kept } = await server.removeVersions(ids);
    setState({ put: undefined });
    await openShelf();
    if (kept.length > 0) setState({ message: `${kept.length === 1 ? 'One version was' : `${kept.length} versions were`} changed since and stay.` });
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
}

/** Deletes photos in the bin for good. Those that others would lose stay, and are told of; they go when they are wanted gone all the same. */
export async function removePhotos(photos: readonly Photo[], anyway = false): Promise<void> {
  const kept: Photo[] = [];
  const words: string[] = [];
  for (const photo of photos) {
    try {
      await server.removePhoto(photo.id, anyway);
      setState((state) => ({ photos: state.photos.filter(({ id }) => id !== photo.id) }));
    } catch (error) {
      kept.push(photo);
      words.push(sentenceOf(error));
    }
  }
  setState({ needed: kept, message: words.join(' ') });
}

/** Puts photos into a roll that is made for them. */
export async function putIntoNewRoll(name: string, ids: readonly string[]): Promise<void> {
  try {
    await server.addRoll(name, ids);
    await openShelf();
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
}

/** Puts photos into a roll, or out of any. */
export async function putIntoRoll(ids: readonly string[], rollId: string | null): Promise<void> {
  try {
    await server.moveToRoll(ids, rollId);
    await openShelf();
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
}

/** Changes a roll; its photos stay on the shelf when it goes. */
export async function changeRoll(id: string, name: string | undefined): Promise<void> {
  try {
    await (name === undefined ? server.removeRoll(id) : server.renameRoll(id, name));
    await openShelf();
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
}
