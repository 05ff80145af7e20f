import limit from 'p-limit';
import type { DetailedError } from 'tus-js-client';
import { create } from 'zustand';
import { isRawName } from '@bexlen/api';
import { whenReached } from '../state/news';
import { parsed } from '../state/parsed';
import { told } from '../words';
import { asRefusal, OFFLINE, Refusal, server, uploadPreviewUrl } from '../state/server';
import { putIntoNewRoll, replace } from './shelf';
import { waitingFiles, type Waiting } from '../offline/waiting';

export interface Upload {
  readonly id: number;
  readonly name: string;
  /** 0..1 of what has been sent. */
  readonly progress: number;
  /** `held` goes on by itself when the server can be reached. */
  readonly state: 'waiting' | 'sending' | 'held' | 'done' | 'known' | 'refused';
  /** Where the picture is that stands in the file itself, while it is being developed. */
  readonly preview?: string;
  readonly message?: string;
  readonly hint?: string;
}

export const useUploads = create<{ readonly uploads: readonly Upload[] }>(() => ({ uploads: [] }));
const { setState } = useUploads;

export const isUnderWay = ({ state }: Upload): boolean => state === 'waiting' || state === 'sending' || state === 'held';
export const clearUploads = (): void => setState(({ uploads }) => ({ uploads: uploads.filter(isUnderWay) }));
const update = (id: number, change: Partial<Upload>): void =>
  setState(({ uploads }) => ({ uploads: uploads.map((upload) => (upload.id === id ? { ...upload, ...change } : upload)) }));

/** A file on its way. */
interface Parcel {
  readonly id: number;
  readonly name: string;
  readonly file: Blob;
  readonly roll: string | undefined;
  /** Where it lies in this browser, once it does. */
  key: Promise<number | undefined>;
  /** The upload that was begun of it. */
  upload: string | undefined;
}

/** Files that are sent at the same time. */
const LANES = 2;
/** A stretch of a file that is sent in one request. */
const STRETCH = 16 << 20;
const RETRY_MS = [0, 500, 1500, 3000];
/** A connection that moves nothing for so long is given up, and another one tried. */
const STILL_MS = 20_000;
const LOOK_MS = 2000;

const lanes = limit(LANES);
/** One after another: to keep many files at once would take their memory. */
const keeping = limit(1);
let count = 0;

/** Sends files in their order, two at a time, each with its own progress and its own word if it is refused. */
export function importFiles(files: readonly File[], roll?: string): void {
  void send(
    files.map((file): Parcel => {
      const key = keeping(() => waitingFiles.add({ name: file.name, file, ...(roll !== undefined && { roll }) })).catch(() => undefined);
      return { id: ++count, name: file.name, file, roll, key, upload: undefined };
    }),
  );
}

/** Goes on with what this browser had not sent when its page was left. What another page of it sends is left to that. */
export async function goOnSending(): Promise<void> {
  const left = (await waitingFiles.all().catch((): Waiting[] => [])).filter(({ handed }) => !handed);
  await send(left.map(({ key, name, file, roll, upload }): Parcel => ({ id: ++count, name, file, roll, key: Promise.resolve(key), upload })));
}

async function send(parcels: readonly Parcel[]): Promise<void> {
  if (parcels.length === 0) return;
  setState(({ uploads }) => ({
    uploads: [...parcels.map(({ id, name }): Upload => ({ id, name, progress: 0, state: 'waiting' })), ...uploads.filter(isUnderWay)],
  }));
  const arrived = new Map<string, string[]>();
  const carry = async (parcel: Parcel): Promise<void> => {
    const photo = await alone(parcel);
    if (photo !== undefined && parcel.roll !== undefined) arrived.set(parcel.roll, [...(arrived.get(parcel.roll) ?? []), photo]);
  };
  await Promise.all(parcels.map((parcel) => lanes(carry, parcel)));
  for (const [roll, ids] of arrived) await putIntoNewRoll(roll, ids);
}

/** Sends a file unless another page of this browser does, or has done. Returns the photo that came of it. */
async function alone(parcel: Parcel): Promise<string | undefined> {
  const key = await parcel.key;
  if (key === undefined || !navigator.locks) return sent(parcel);
  return navigator.locks.request(`bexlen-upload-${key}`, { ifAvailable: true }, async (lock) => {
    if (lock && (await waitingFiles.has(key))) return sent(parcel);
    setState(({ uploads }) => ({ uploads: uploads.filter(({ id }) => id !== parcel.id) }));
    return undefined;
  });
}

async function sent(parcel: Parcel): Promise<string | undefined> {
  const { id } = parcel;
  for (;;) {
    update(id, { state: 'sending' });
    try {
      parcel.upload = await carried(parcel);
      if (isRawName(parcel.name)) update(id, { preview: uploadPreviewUrl(parcel.upload) });
      const { photo, known, notes } = await server.takeUpload(parcel.upload);
      replace(photo);
      update(id, { ...(notes.length > 0 && { message: notes.map(told).join(' '), hint: '' }), state: known ? 'known' : 'done', progress: 1 });
      forget(parcel);
      return photo.id;
    } catch (error) {
      const fault = error instanceof Refusal ? error.fault : OFFLINE;
      if (fault.code === 'not-found' && parcel.upload !== undefined) parcel.upload = undefined;
      else if (GOES_ON.includes(fault.code)) {
        update(id, { state: 'held' });
        await reachable();
      } else {
        update(id, { state: 'refused', message: fault.message, hint: fault.hint });
        forget(parcel);
        return undefined;
      }
    }
  }
}
/** What passes by itself, or when the device is let in again. */
const GOES_ON = ['offline', 'not-paired', 'conflict'];

/** Does something to where a file lies in this browser, if it does. */
async function kept(key: Promise<number | undefined>, act: (key: number) => Promise<void>): Promise<void> {
  const there = await key;
  if (there !== undefined) await act(there).catch(() => undefined);
}

const forget = ({ key }: Parcel): void => void kept(key, (it) => waitingFiles.remove(it));

const reachable = (): Promise<void> => new Promise((resolve) => void whenReached(resolve));

/** Brings all bytes of a file to the server, from where it stopped. Returns the id of the upload. */
async function carried(parcel: Parcel): Promise<string> {
  // It comes with the first file that is sent.
  const { Upload: Tus } = await import('tus-js-client').catch((): never => {
    throw new Refusal(OFFLINE);
  });
  return new Promise((resolve, reject) => {
    let moved = performance.now();
    const end = (): void => {
      clearInterval(watch);
      document.removeEventListener('visibilitychange', look);
    };
    const idOf = (): string => upload.url?.split('/').pop() ?? '';
    const upload = new Tus(parcel.file, {
      endpoint: '/api/uploads',
      uploadUrl: parcel.upload === undefined ? null : `/api/uploads/${parcel.upload}`,
      chunkSize: STRETCH,
      retryDelays: RETRY_MS,
      metadata: { filename: parcel.name },
      storeFingerprintForResuming: false,
      onUploadUrlAvailable: () => {
        parcel.upload = idOf();
        void kept(parcel.key, (key) => waitingFiles.begun(key, idOf()));
      },
      onProgress: (bytes, total) => {
        moved = performance.now();
        update(parcel.id, { progress: total > 0 ? bytes / total : 0 });
      },
      onSuccess: () => (end(), resolve(idOf())),
      onError: (error) => (end(), reject(refusalOf(error))),
    });
    const look = (): void => {
      if (document.hidden || performance.now() - moved < STILL_MS) return;
      end();
      void upload.abort().finally(() => reject(new Refusal(OFFLINE)));
    };
    // A phone that was asleep finds its connections dead.
    const watch = setInterval(look, LOOK_MS);
    document.addEventListener('visibilitychange', look);
    upload.start();
  });
}

function refusalOf(error: Error | DetailedError): Refusal {
  const answer = 'originalResponse' in error ? error.originalResponse : null;
  if (!answer) return new Refusal(OFFLINE);
  return asRefusal(answer.getStatus(), parsed(answer.getBody()));
}
