import fs from 'node:fs/promises';
import path from 'node:path';
import { filesIn, jpeg, newFolder, startServer, type Running } from './server';

const MOST = 3e6;
let folder = '';
let running: Running;
beforeAll(async () => {
  folder = await newFolder();
  running = await startServer(folder, MOST);
});
afterAll(async () => {
  await running.close();
  await fs.rm(folder, { recursive: true });
});

const PROTOCOL = { 'Tus-Resumable': '1.0.0' };
const named = (name: string): string => `filename ${Buffer.from(name).toString('base64')}`;
const ask = (method: string, where: string, headers: Record<string, string> = {}, body?: Uint8Array): Promise<Response> =>
  fetch(`${running.address}${where}`, { method, headers: { ...PROTOCOL, ...headers }, ...(body && { body: new Uint8Array(body) }) });
async function begin(bytes: number, name = 'dune.jpg'): Promise<string> {
  const answer = await ask('POST', '/api/uploads', { 'Upload-Length': String(bytes), 'Upload-Metadata': named(name) });
  expect(answer.status).toBe(201);
  return String(answer.headers.get('location'));
}
const send = (where: string, from: number, part: Uint8Array): Promise<Response> =>
  ask('PATCH', where, { 'Upload-Offset': String(from), 'Content-Type': 'application/offset+octet-stream' }, part);
const offsetOf = async (where: string): Promise<number> => Number((await ask('HEAD', where)).headers.get('upload-offset'));
const take = (where: string): Promise<Response> => ask('POST', `${where}/take`);

it('goes on where it stopped, also after the server was started anew, and the same photo is one', async () => {
  const bytes = await jpeg(400, 300);
  const where = await begin(bytes.length, 'dünen.jpg');
  await send(where, 0, bytes.subarray(0, 1000));
  expect((await take(where)).status).toBe(409);
  await running.close();
  running = await startServer(folder, MOST);
  expect(await offsetOf(where)).toBe(1000);
  // Sent twice because its answer was lost: the second is told where it stands.
  expect((await send(where, 0, bytes.subarray(0, 1000))).status).toBe(409);
  expect((await send(where, 1000, bytes.subarray(1000))).status).toBe(204);
  const [first, second] = await Promise.all([take(where), take(where)]);
  const photo = (await first.json()) as { photo: { id: string; name: string } };
  expect([first.status, second.status]).toEqual([201, 201]);
  expect(photo.photo.name).toBe('dünen');
  const twin = await begin(bytes.length);
  await send(twin, 0, bytes);
  const known = await take(twin);
  expect([known.status, ((await known.json()) as typeof photo).photo.id]).toEqual([200, photo.photo.id]);
  expect(await fs.readdir(path.join(folder, 'data/uploads'))).toEqual([]);
});

it('leaves nothing of a file that is no picture, and says the same again', async () => {
  const files = await filesIn(path.join(folder, 'data'));
  const bytes = Buffer.from('no picture at all');
  const where = await begin(bytes.length, 'notes.jpg');
  await send(where, 0, bytes);
  for (let i = 0; i < 2; i++) {
    const answer = await take(where);
    expect([answer.status, ((await answer.json()) as { message: string }).message]).toEqual([415, 'notes.jpg is not a picture that can be read.']);
  }
  expect(await filesIn(path.join(folder, 'data'))).toEqual(files);
});

it.each([
  ['too large', { 'Upload-Length': String(MOST + 1) }, 413, 'too-large'],
  ['without a length', {}, 400, 'bad-request'],
  ['of a negative length', { 'Upload-Length': '-5' }, 400, 'bad-request'],
  ['put together of others', { 'Upload-Concat': 'final;/api/uploads/a /api/uploads/b' }, 400, 'bad-request'],
  ['of another protocol', { 'Upload-Length': '5', 'Tus-Resumable': '0.2' }, 400, 'bad-request'],
])('is refused with a sentence: %s', async (_, headers, status, code) => {
  const answer = await ask('POST', '/api/uploads', headers);
  expect([answer.status, ((await answer.json()) as { code: string }).code]).toEqual([status, code]);
});

it('is thrown away when somebody gives it up; nobody reaches what is not theirs', async () => {
  const where = await begin(500);
  expect((await ask('DELETE', where)).status).toBe(204);
  expect((await take(where)).status).toBe(404);
  for (const id of ['home.x', 'other.3f', '..%2f..%2fowner.pid', 'home.%2e%2e%2fx', 'home', `${'a'.repeat(3000)}`])
    expect((await ask('HEAD', `/api/uploads/${id}`)).status).toBe(404);
});

it('takes no more than was said', async () => {
  const where = await begin(10);
  const answer = await send(where, 0, Buffer.alloc(5000));
  expect(answer.status).toBeGreaterThanOrEqual(400);
  expect(await offsetOf(where)).toBeLessThanOrEqual(10);
});
