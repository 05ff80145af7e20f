import { canShare, share } from './share';

const job = { id: 'a', fileName: 'Dunes.jpg', format: 'jpeg' as const };
const refusing = (name: string) => jest.fn().mockRejectedValue(Object.assign(new Error(), { name }));
const given = (parts: object): void => void Object.defineProperty(globalThis, 'navigator', { value: parts, configurable: true });
let fetches = 0;
beforeEach(() => {
  fetches = 0;
  globalThis.fetch = jest.fn(() => {
    fetches++;
    return Promise.resolve(new Response('bytes'));
  });
});

it('asks the device whether it takes such files', () => {
  given({});
  expect(canShare('jpeg')).toBe(false);
  const asked = jest.fn(({ files: [file] }: { files: File[] }) => file?.type === 'image/jpeg');
  given({ canShare: asked });
  expect([canShare('jpeg'), canShare('pdf')]).toEqual([true, false]);
});

it('hands the file over under its name, and fetches it once where the tap was forgotten meanwhile', async () => {
  given({ share: refusing('NotAllowedError') });
  expect(await share(job)).toBe('The file is ready. Tap Share once more.');
  const took = jest.fn().mockResolvedValue(undefined);
  given({ share: took });
  expect(await share(job)).toBeUndefined();
  const [[{ files }]] = took.mock.calls as [[{ files: File[] }]];
  expect(files.map(({ name, type }) => [name, type])).toEqual([['Dunes.jpg', 'image/jpeg']]);
  expect(fetches).toBe(1);
});

it('says nothing where it was put away, and what to do where it fails', async () => {
  given({ share: refusing('AbortError') });
  expect(await share({ ...job, id: 'b' })).toBeUndefined();
  given({ share: refusing('DataError') });
  expect(await share({ ...job, id: 'b' })).toMatch(/Download it instead/);
  globalThis.fetch = jest.fn().mockResolvedValue(new Response('', { status: 404 }));
  expect(await share({ ...job, id: 'c' })).toMatch(/could not be loaded/);
});
