import { create } from 'zustand';
import type { LookOrder, Photo, PhotoChange, Roll } from '@bexlen/server/api';
import { imported } from '@bexlen/server/api';
import { hear, useReach } from '../state/news';
import { asRefusal, Refusal, sentenceOf, server } from '../state/server';

export interface Upload {
  readonly id: number;
  readonly name: string;
  /** 0..1 of what has been sent. */
  readonly progress: number;
  readonly state: 'waiting' | 'sending' | 'done' | 'known' | 'refused';
  readonly message?: string;
  readonly hint?: string;
}

interface ShelfState {
  readonly photos: readonly Photo[];
  /** Folders of the shelf, the newest first. */
  readonly rolls: readonly Roll[];
  readonly state: 'opening' | 'ready' | 'failed';
  readonly message: string;
  readonly uploads: readonly Upload[];
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
  uploads: [],
  binned: [],
  needed: [],
  put: undefined,
  about: undefined,
}));
const { setState, getState } = useShelf;

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
    clearTimeout(timer);
    stops.forEach((stop) => stop());
  };
}

const cannotRead = (count: number): string =>
  `${count === 1 ? 'One photo' : `${count} photos`} could not be read and ${count === 1 ? 'is' : 'are'} not shown. The files are kept; a newer Bexlen may read them.`;

const replace = (photo: Photo): void =>
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

/** Photos that came of files. */
const arrived = new Map<number, string>();
let count = 0;
let sending: Promise<void> = Promise.resolve();
/** Files that are sent at the same time. */
const LANES = 2;

/** Sends files one after another in two lanes, each with its own progress and its own word if it is refused. */
export function importFiles(files: readonly File[], roll?: string): void {
  const entries = files.map((file) => ({ file, id: ++count }));
  setState(({ uploads }) => ({
    uploads: [
      ...entries.map(({ file, id }): Upload => ({ id, name: file.name, progress: 0, state: 'waiting' })),
      ...uploads.filter(({ state }) => state === 'sending' || state === 'waiting'),
    ],
  }));
  const queue = [...entries];
  const lane = async (): Promise<void> => {
    for (let next = queue.shift(); next; next = queue.shift()) await send(next.file, next.id);
  };
  sending = sending.then(async () => {
    await Promise.all(Array.from({ length: LANES }, lane));
    const ids = entries.flatMap(({ id }) => arrived.get(id) ?? []);
    if (roll !== undefined && ids.length > 0) await putIntoNewRoll(roll, ids);
  });
}

export const clearUploads = (): void =>
  setState(({ uploads }) => ({ uploads: uploads.filter(({ state }) => state === 'sending' || state === 'waiting') }));

const update = (id: number, change: Partial<Upload>): void =>
  setState({ uploads: getState().uploads.map((upload) => (upload.id === id ? { ...upload, ...change } : upload)) });

async function send(file: File, id: number): Promise<void> {
  update(id, { state: 'sending' });
  try {
    const { photo, known, notes } = await post(file, (progress) => update(id, { progress }));
    replace(photo);
    arrived.set(id, photo.id);
    update(id, { ...(notes.length > 0 && { message: notes.join(' '), hint: '' }), state: known ? 'known' : 'done', progress: 1 });
  } catch (error) {
    const { message, hint } = error instanceof Refusal ? error.fault : { message: 'The file could not be sent.', hint: 'Try again.' };
    update(id, { state: 'refused', message, hint });
  }
}

/** A request whose progress can be followed, which fetch does not offer for uploads. */
function post(file: File, onProgress: (share: number) => void): Promise<{ photo: Photo; known: boolean; notes: readonly string[] }> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const form = new FormData();
    form.append('photo', file, file.name);
    request.upload.onprogress = ({ loaded, total }) => onProgress(total > 0 ? loaded / total : 0);
    request.onerror = () =>
      reject(
        new Refusal({
          code: 'offline',
          message: `${file.name} could not be sent: the server cannot be reached, or it broke off.`,
          hint: 'See that it runs, then import the file again.',
        }),
      );
    request.onload = () => {
      const body: unknown = parsed(request.responseText);
      const read = imported.safeParse(body);
      if (request.status < 300 && read.success) resolve(read.data);
      else reject(asRefusal(request.status, body));
    };
    request.open('POST', '/api/photos');
    request.send(form);
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
