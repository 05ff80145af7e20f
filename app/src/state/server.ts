import { z } from 'zod';
import type { Stack } from '@bexlen/core';
import * as api from '@bexlen/api';
import type {
  Device,
  Estimate,
  ExportJob,
  ExportOrder,
  ExportWish,
  Fault,
  FileWish,
  Imported,
  Orphan,
  LookChange,
  LookOrder,
  LooksImported,
  MachineList,
  NewVersion,
  PairingCode,
  PhoneState,
  Photo,
  PhotoChange,
  Preset,
  PutVersions,
  Roll,
  SheetWish,
  ShelfPage,
  ShelfPageWish,
  Version,
  VersionChange,
  VersionSummary,
} from '@bexlen/api';
import { say, told } from '../words';

/** A refusal by the server, with its sentence, or `offline` when it cannot be reached. */
export class Refusal extends Error {
  readonly fault: Fault;
  constructor(fault: Fault) {
    super(told(fault.message));
    this.fault = { ...fault, message: told(fault.message), hint: told(fault.hint) };
  }
  get code(): string {
    return this.fault.code;
  }
}

/** Returns what to tell people about an error: the server's own sentences, if the server refused. */
export const sentenceOf = (error: unknown, otherwise = String(error)): string =>
  error instanceof Refusal ? `${error.message} ${error.fault.hint}` : otherwise;

export const OFFLINE: Fault = {
  code: 'offline',
  message: say.state.theServerCannotBeReached,
  hint: globalThis.location?.protocol === 'https:' ? say.state.seeThatItRunsAndThat : say.state.startItAgainWithStartThe,
};
const STRANGE: Fault = { code: 'internal', message: say.state.theServerGaveAnAnswerThat, hint: say.state.reloadThePage };

export function asRefusal(status: number, body: unknown): Refusal {
  const fault = api.fault.safeParse(body);
  return new Refusal(fault.success ? fault.data : { ...STRANGE, message: say.state.theServerRefusedStatus(status) });
}

async function ask<T>(
  schema: z.ZodType<T>,
  path: string,
  init: { method?: string; body?: unknown; text?: string; bytes?: ArrayBuffer } = {},
): Promise<T> {
  const request: RequestInit = { method: init.method ?? 'GET' };
  if (init.body !== undefined) Object.assign(request, { body: JSON.stringify(init.body), headers: { 'Content-Type': 'application/json' } });
  if (init.text !== undefined) Object.assign(request, { body: init.text, headers: { 'Content-Type': 'text/plain' } });
  if (init.bytes) Object.assign(request, { body: init.bytes, headers: { 'Content-Type': 'application/octet-stream' } });
  const answer = await fetch(`/api${path}`, request).catch(() => {
    throw new Refusal(OFFLINE);
  });
  const body: unknown = answer.status === 204 ? null : await answer.json().catch(() => null);
  const read = schema.safeParse(body);
  // A refusal that answers the question is an answer.
  if (!answer.ok && !(answer.status === 422 && read.success)) throw asRefusal(answer.status, body);
  if (!read.success) throw new Refusal(STRANGE);
  return read.data;
}

const exportList = z.object({ exports: z.array(api.exportJob) });
export const server = {
  /** A page of the shelf, the first one unless told otherwise. A photo that cannot be read is left out and counted; it must not hide the others. */
  photos: async (wish: ShelfPageWish = {}): Promise<ShelfPage> => {
    const query = new URLSearchParams(Object.entries(wish).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]]))).toString();
    const { photos, unread, next } = await ask(api.shelf, `/photos${query && `?${query}`}`);
    const read = photos.flatMap((one) => api.photo.safeParse(one).data ?? []);
    return { photos: read, unread: unread + photos.length - read.length, next };
  },
  photo: (id: string): Promise<Photo> => ask(api.photo, `/photos/${id}`),
  changePhoto: (id: string, body: PhotoChange): Promise<Photo> => ask(api.photo, `/photos/${id}`, { method: 'PATCH', body }),
  /** Puts a completely uploaded file on the shelf. */
  takeUpload: (id: string): Promise<Imported> => ask(api.imported, `/uploads/${encodeURIComponent(id)}/take`, { method: 'POST' }),
  /** @param anyway even where others would lose it. */
  removePhoto: (id: string, anyway: boolean): Promise<null> => ask(z.null(), `/photos/${id}${anyway ? '?anyway=1' : ''}`, { method: 'DELETE' }),
  orphans: async (): Promise<Orphan[]> => (await ask(api.orphans, '/orphans')).orphans,
  takeOrphan: (id: string): Promise<Imported> => ask(api.imported, `/orphans/${id}/take`, { method: 'POST' }),
  dropOrphan: (id: string): Promise<null> => ask(z.null(), `/orphans/${id}`, { method: 'DELETE' }),
  rolls: async (): Promise<Roll[]> => (await ask(api.rolls, '/rolls')).rolls,
  addRoll: async (name: string, photos: readonly string[]): Promise<Roll[]> =>
    (await ask(api.rolls, '/rolls', { method: 'POST', body: { name, photos } })).rolls,
  renameRoll: (id: string, name: string): Promise<null> => ask(z.null(), `/rolls/${id}`, { method: 'PATCH', body: { name } }),
  removeRoll: (id: string): Promise<null> => ask(z.null(), `/rolls/${id}`, { method: 'DELETE' }),
  moveToRoll: (photos: readonly string[], rollId: string | null): Promise<null> =>
    ask(z.null(), '/rolls/move', { method: 'POST', body: { photos, rollId } }),
  version: (id: string): Promise<Version> => ask(api.version, `/versions/${id}`),
  addVersion: (photoId: string, body: NewVersion): Promise<Version> => ask(api.version, `/photos/${photoId}/versions`, { method: 'POST', body }),
  keepVersion: (id: string, body: VersionChange): Promise<{ revision: number }> => ask(api.kept, `/versions/${id}`, { method: 'PUT', body }),
  renameVersion: (id: string, name: string): Promise<Version> => ask(api.version, `/versions/${id}`, { method: 'PATCH', body: { name } }),
  painting: (name: string): Promise<z.infer<typeof api.painting>> => ask(api.painting, `/strokes/${name}`),
  addCube: (text: string, name: string): Promise<{ name: string }> =>
    ask(api.cubeKept, `/cubes?name=${encodeURIComponent(name)}`, { method: 'POST', text }),
  /** A small picture of a photo with a stack, as an address to show; whoever asked lets it go. */
  picture: async (photoId: string, stack: Stack, signal: AbortSignal): Promise<string> => {
    const answer = await fetch(`/api/photos/${photoId}/picture`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ stack }),
      signal,
    });
    if (!answer.ok) throw asRefusal(answer.status, await answer.json().catch(() => null));
    return URL.createObjectURL(await answer.blob());
  },
  /** All looks, page by page; one that comes twice, since others came meanwhile, is the later one. */
  looks: async (): Promise<{ looks: readonly api.KeptLook[] }> => {
    const found = new Map<string, api.KeptLook>();
    let after: string | undefined;
    do {
      const { looks, next } = await ask(api.lookbook, after === undefined ? '/looks' : `/looks?after=${encodeURIComponent(after)}`);
      looks.forEach((look) => found.set(look.id, look));
      after = next;
    } while (after !== undefined);
    return { looks: [...found.values()] };
  },
  /** Takes in a file with looks. What is wrong with it is an answer too: then nothing was taken in. */
  addLooks: (bytes: ArrayBuffer): Promise<LooksImported> => ask(api.looksImported, '/looks', { method: 'POST', bytes }),
  changeLook: (id: string, body: LookChange): Promise<null> => ask(z.null(), `/looks/${id}`, { method: 'PATCH', body }),
  removeLook: (id: string): Promise<null> => ask(z.null(), `/looks/${id}`, { method: 'DELETE' }),
  putLook: (id: string, body: LookOrder): Promise<PutVersions> => ask(api.putVersions, `/looks/${id}/put`, { method: 'POST', body }),
  removeVersions: (ids: readonly string[]): Promise<{ kept: string[] }> =>
    ask(z.object({ kept: z.array(z.string()) }), '/versions/remove', { method: 'POST', body: { ids } }),
  machines: (): Promise<MachineList> => ask(api.machineList, '/exports/machines'),
  exports: async (): Promise<ExportJob[]> => (await ask(exportList, '/exports')).exports,
  /** Orders files of several versions at once. */
  addExports: async (body: ExportOrder): Promise<ExportJob[]> => (await ask(exportList, '/exports', { method: 'POST', body })).exports,
  addLayersFile: (versionId: string): Promise<ExportJob> => ask(api.exportJob, '/exports/layers', { method: 'POST', body: { versionId } }),
  addSheet: (body: SheetWish): Promise<ExportJob> => ask(api.exportJob, '/exports/sheet', { method: 'POST', body }),
  estimate: (body: ExportWish): Promise<Estimate> => ask(api.estimate, '/exports/estimate', { method: 'POST', body }),
  presets: async (): Promise<Preset[]> => (await ask(z.object({ presets: z.array(api.preset) }), '/presets')).presets,
  keepPreset: (name: string, wish: FileWish): Promise<Preset> => ask(api.preset, '/presets', { method: 'POST', body: { name, wish } }),
  removePreset: (id: string): Promise<null> => ask(z.null(), `/presets/${id}`, { method: 'DELETE' }),
  phone: (): Promise<PhoneState> => ask(api.phoneState, '/phone'),
  openPhone: (open: boolean): Promise<PhoneState> => ask(api.phoneState, '/phone', { method: 'PUT', body: { open } }),
  newCode: (): Promise<PairingCode> => ask(api.pairingCode, '/phone/codes', { method: 'POST' }),
  /** This device, as the machine has it listed; nobody on the machine itself. */
  me: async (): Promise<Device | null> => (await ask(api.whoAsks, '/phone/me')).device,
  renameDevice: (id: string, name: string): Promise<null> => ask(z.null(), `/phone/devices/${id}`, { method: 'PATCH', body: { name } }),
  sendAway: (id: string): Promise<null> => ask(z.null(), `/phone/devices/${id}`, { method: 'DELETE' }),
  stopExports: (ids: readonly string[]): Promise<unknown> => ask(exportList, '/exports/stop', { method: 'POST', body: { ids } }),
  goOnWithExports: (ids: readonly string[]): Promise<unknown> => ask(exportList, '/exports/go-on', { method: 'POST', body: { ids } }),
  cancelExport: (id: string): Promise<ExportJob> => ask(api.exportJob, `/exports/${id}/cancel`, { method: 'POST' }),
  exportAgain: (id: string): Promise<ExportJob> => ask(api.exportJob, `/exports/${id}/again`, { method: 'POST' }),
  removeExport: (id: string): Promise<null> => ask(z.null(), `/exports/${id}`, { method: 'DELETE' }),
};

export const cubeUrl = (name: string): string => `/api/cubes/${encodeURIComponent(name)}`;
/** The picture that a camera stored in a raw file, once this has arrived as a whole. */
export const uploadPreviewUrl = (upload: string): string => `/api/uploads/${encodeURIComponent(upload)}/preview`;
export const thumbUrl = (photoId: string): string => `/api/photos/${photoId}/thumb`;
/** A version as it is now; its address changes with it. */
export const versionThumbUrl = ({ id, revision }: VersionSummary): string => `/api/versions/${id}/thumb?revision=${revision}`;
export const lookUrl = (id: string): string => `/api/looks/${encodeURIComponent(id)}/file`;
export const looksUrl = (folder?: string): string => `/api/looks/archive${folder === undefined ? '' : `?folder=${encodeURIComponent(folder)}`}`;
export const tableUrl = (of: 'versions' | 'looks', id: string, size: number): string => `/api/${of}/${encodeURIComponent(id)}/table?size=${size}`;
export const archiveUrl = (ids: readonly string[]): string => `/api/exports/archive?ids=${ids.join(',')}`;
export const exportThumbUrl = (id: string): string => `/api/exports/${id}/thumb`;
export const exportUrl = (id: string): string => `/api/exports/${id}/file`;
