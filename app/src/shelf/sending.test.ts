import type { UploadOptions } from 'tus-js-client';
import { useReach } from '../state/news';
import { Refusal, server } from '../state/server';
import { importFiles, useUploads } from './sending';

/** The other end of an upload: what the library would do on the wire is done by the test. */
interface Sent {
  readonly options: UploadOptions;
  url: string | null;
  aborted: boolean;
}
const mockSent: Sent[] = [];
class MockUpload implements Sent {
  url: string | null;
  aborted = false;
  readonly options: UploadOptions;
  constructor(_file: unknown, options: UploadOptions) {
    this.options = options;
    this.url = options.uploadUrl ?? null;
  }
  start(): void {
    mockSent.push(this);
  }
  abort(): Promise<void> {
    this.aborted = true;
    return Promise.resolve();
  }
}
jest.mock('tus-js-client', () => ({
  get Upload() {
    return MockUpload;
  },
}));
let mockKept = new Map<number, unknown>();
jest.mock('../offline/waiting', () => ({
  waitingFiles: {
    add: (file: unknown) => (mockKept.set(mockKept.size + 1, file), Promise.resolve(mockKept.size)),
    begun: () => Promise.resolve(),
    has: (key: number) => Promise.resolve(mockKept.has(key)),
    remove: (key: number) => (mockKept.delete(key), Promise.resolve()),
    all: () => Promise.resolve([]),
  },
}));
const mockReplaced: string[] = [];
const mockRolls: [string, readonly string[]][] = [];
jest.mock('./shelf', () => ({
  replace: ({ id }: { id: string }) => mockReplaced.push(id),
  putIntoNewRoll: (roll: string, ids: readonly string[]) => (mockRolls.push([roll, ids]), Promise.resolve()),
}));

const settle = async (): Promise<void> => {
  for (let i = 0; i < 40; i++) await Promise.resolve();
};
const files = (...names: string[]): File[] => names.map((name) => ({ name, size: 10 }) as File);
const states = (): string[] => useUploads.getState().uploads.map(({ name, state }) => `${name} ${state}`);
const nth = (i: number): Sent => mockSent[i] as Sent;
const arrives = async (sent: Sent, id: string): Promise<void> => {
  sent.url = `/api/uploads/${id}`;
  sent.options.onUploadUrlAvailable?.();
  sent.options.onSuccess?.({} as never);
  await settle();
};

beforeAll(() => {
  Object.defineProperty(globalThis, 'document', { value: Object.assign(new EventTarget(), { hidden: false }), configurable: true });
  // A browser without locks: no other page sends.
  Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
});
beforeEach(() => {
  jest.useFakeTimers({ doNotFake: ['performance'] });
  mockSent.length = 0;
  mockReplaced.length = 0;
  mockRolls.length = 0;
  mockKept = new Map();
  useUploads.setState({ uploads: [] });
  useReach.setState({ reach: 'here' });
  jest.spyOn(server, 'takeUpload').mockImplementation((id) => Promise.resolve({ photo: { id: `photo-${id}` }, known: false, notes: [] } as never));
});
afterEach(() => jest.useRealTimers());

describe('files on their way to the shelf', () => {
  it('go two at a time, in order, and come into their roll together', async () => {
    importFiles(files('a', 'b', 'c'), 'Sunday');
    await settle();
    expect(states()).toEqual(['a sending', 'b sending', 'c waiting']);
    await arrives(nth(1), 'ub');
    expect(states()).toEqual(['a sending', 'b done', 'c sending']);
    await arrives(nth(0), 'ua');
    await arrives(nth(2), 'uc');
    expect(mockReplaced).toEqual(['photo-ub', 'photo-ua', 'photo-uc']);
    expect(mockRolls).toEqual([['Sunday', ['photo-ub', 'photo-ua', 'photo-uc']]]);
    expect(mockKept.size).toBe(0);
  });

  it('tell how far they are', async () => {
    importFiles(files('a'));
    await settle();
    nth(0).options.onProgress?.(4, 10);
    expect(useUploads.getState().uploads[0]?.progress).toBe(0.4);
    await arrives(nth(0), 'ua');
    expect(useUploads.getState().uploads[0]).toMatchObject({ state: 'done', progress: 1 });
  });

  it('wait for a server that is away, kept in the browser, and go on with the same upload', async () => {
    importFiles(files('a'));
    await settle();
    nth(0).url = '/api/uploads/ua';
    nth(0).options.onUploadUrlAvailable?.();
    useReach.setState({ reach: 'away' });
    nth(0).options.onError?.(new Error('connection lost'));
    await settle();
    expect(states()).toEqual(['a held']);
    expect(mockKept.size).toBe(1);
    jest.advanceTimersByTime(1500);
    await settle();
    expect(mockSent).toHaveLength(1);
    useReach.setState({ reach: 'here' });
    await settle();
    expect(nth(1).options.uploadUrl).toBe('/api/uploads/ua');
    await arrives(nth(1), 'ua');
    expect(states()).toEqual(['a done']);
  });

  it('begin anew where the server lost what had arrived', async () => {
    const gone = new Refusal({ code: 'not-found', message: 'This upload is not here any more.', hint: 'Import the file again.' });
    jest.spyOn(server, 'takeUpload').mockRejectedValueOnce(gone);
    importFiles(files('a'));
    await settle();
    await arrives(nth(0), 'ua');
    expect(nth(1).options.uploadUrl).toBeNull();
    await arrives(nth(1), 'ub');
    expect(mockReplaced).toEqual(['photo-ub']);
  });

  it('say why they are refused, and do not hold the next ones up', async () => {
    const refused = new Refusal({ code: 'unsupported-format', message: 'a is no photo.', hint: 'Choose another file.' });
    jest.spyOn(server, 'takeUpload').mockRejectedValueOnce(refused);
    importFiles(files('a', 'b'));
    await settle();
    await arrives(nth(0), 'ua');
    await arrives(nth(1), 'ub');
    expect(useUploads.getState().uploads).toMatchObject([
      { state: 'refused', message: 'a is no photo.', hint: 'Choose another file.' },
      { state: 'done' },
    ]);
    expect(mockKept.size).toBe(0);
  });
});
