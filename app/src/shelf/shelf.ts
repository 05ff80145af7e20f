import { create } from 'zustand';
import type { LookOrder, Photo, PhotoChange, Roll } from '@bexlen/api';
import { hear, useReach } from '../state/news';
import { sentenceOf, server } from '../state/server';
import { askAnew, askFor, keyOf, merged, type ToldSheet } from './pages';
import type { Wanted } from './sheet';
import { say } from '../words';

interface ShelfState {
  /** All photos of the shelf; of a long one, those that were told of. */
  readonly photos: readonly Photo[];
  /** There are more on the shelf than a page: its sheets are told by the server. */
  readonly long: boolean;
  /** The sheet that is looked at, of a long shelf. */
  readonly told: ToldSheet | undefined;
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
  long: false,
  told: undefined,
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
    const [{ photos, unread, next }, rolls] = await Promise.all([server.photos(), server.rolls()]);
    const long = next !== null;
    setState((before) => ({
      photos: long ? merged(before.photos, photos) : photos,
      long,
      rolls,
      state: 'ready',
      message: unread > 0 ? cannotRead(unread) : '',
      ...(!long && { told: undefined }),
    }));
    const { told } = useShelf.getState();
    if (told && looked) take(looked, await askAnew(looked, told));
  } catch (error) {
    setState({ state: 'failed', message: sentenceOf(error) });
  }
}

let looked: Wanted | undefined;
let asking = false;

/** Takes what was told of a sheet, unless another one is looked at meanwhile. */
function take(wanted: Wanted, { photos, told }: { readonly photos: readonly Photo[]; readonly told: ToldSheet }): void {
  setState((before) => ({ photos: merged(before.photos, photos), ...(looked && keyOf(looked) === keyOf(wanted) && { told }) }));
}

/** Looks at a sheet: of a long shelf, it is asked for. Without the server it is what is known here. */
export async function lookAt(wanted: Wanted): Promise<void> {
  looked = wanted;
  const { long, told } = useShelf.getState();
  if (!long || told?.key === keyOf(wanted)) return;
  try {
    take(wanted, await askFor(wanted, undefined));
  } catch (error) {
    if (useReach.getState().reach === 'here') setState({ message: sentenceOf(error) });
  }
}

/** Has more told of the sheet that is looked at. */
export async function lookFurther(): Promise<void> {
  const { told } = useShelf.getState();
  if (!looked || !told || told.next === null || told.key !== keyOf(looked) || asking) return;
  asking = true;
  try {
    take(looked, await askFor(looked, told));
  } catch (error) {
    setState({ message: sentenceOf(error) });
  }
  asking = false;
}

/** Makes sure that some photos of the shelf are known here, where they are still there. */
export async function knowPhotos(ids: readonly string[]): Promise<void> {
  const unknown = ids.filter((id) => !useShelf.getState().photos.some((photo) => photo.id === id));
  if (unknown.length === 0) return;
  const found = await Promise.all(unknown.map((id) => server.photo(id).catch(() => undefined)));
  setState(({ photos }) => ({
    photos: merged(
      photos,
      found.flatMap((photo) => photo ?? []),
    ),
  }));
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
  say.shelf.photosNotRead(count === 1 ? say.shelf.onePhotoFirst : say.shelf.countPhotos(count), count === 1 ? say.shelf.is : say.shelf.are);

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
    if (kept.length > 0)
      setState({
        message: say.shelf.whatChangedSinceAndStay(kept.length === 1 ? say.shelf.oneVersionWas : say.shelf.countVersionsWere(kept.length)),
      });
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
