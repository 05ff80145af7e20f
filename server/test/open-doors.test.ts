import fs from 'node:fs/promises';
import https from 'node:https';
import path from 'node:path';
import type { PairingCode, PhoneState } from '@bexlen/api';
import { newFolder, startServer, type Running } from './server';

const ADDRESS = '127.0.0.2';
const JSON_TYPE = { 'Content-Type': 'application/json' };

let folder = '';
let running: Running;
let ca = '';
beforeAll(async () => {
  folder = await newFolder();
  running = await startServer(folder, 64e6, ['--at', ADDRESS]);
  ca = await fs.readFile(path.join(folder, 'data/phone/authority.pem'), 'utf8');
});
afterAll(async () => {
  await running.close();
  await fs.rm(folder, { recursive: true });
});

const port = (): number => Number(new URL(running.address).port);

/** A request through the door of the network. */
function outside(
  method: string,
  where: string,
  headers: Record<string, string> = {},
  body = '',
): Promise<{ status: number; cookie: string; text: string }> {
  return new Promise((resolve, reject) => {
    const options = { host: ADDRESS, port: port(), path: where, method, headers, ca, agent: false, checkServerIdentity: () => undefined } as const;
    const req = https.request(options, (res) => {
      let text = '';
      res.on('data', (part: Buffer) => (text += String(part)));
      res.on('end', () => resolve({ status: res.statusCode ?? 0, cookie: String(res.headers['set-cookie']?.[0]).split(';')[0] ?? '', text }));
    });
    req.on('error', reject);
    req.end(body);
  });
}
async function paired(name: string): Promise<string> {
  const { code } = (await (await fetch(`${running.address}/api/phone/codes`, { method: 'POST' })).json()) as PairingCode;
  return (await outside('POST', '/pair', JSON_TYPE, JSON.stringify({ code, name }))).cookie;
}
async function turned(open: boolean, { address } = running): Promise<PhoneState> {
  const answer = await fetch(`${address}/api/phone`, { method: 'PUT', headers: JSON_TYPE, body: JSON.stringify({ open }) });
  return (await answer.json()) as PhoneState;
}
const stateOf = async ({ address }: Running): Promise<PhoneState> => (await (await fetch(`${address}/api/phone`)).json()) as PhoneState;

it('the doors to the network are shut and opened at once, and cut off who came by them', async () => {
  const Cookie = await paired('Tablet');
  expect((await outside('GET', '/api/phone/me', { Cookie })).status).toBe(200);
  expect(await turned(false)).toMatchObject({ open: false, addresses: [] });
  await expect(outside('GET', '/api/phone/me', { Cookie })).rejects.toThrow('ECONNREFUSED');
  expect(await turned(true)).toMatchObject({ open: true, addresses: [`https://${ADDRESS}:${port()}`] });
  // It is the same door: who was paired still is.
  expect((await outside('GET', '/api/phone/me', { Cookie })).text).toContain('Tablet');
});

it('they stand as they were chosen after a restart', async () => {
  const other = await newFolder();
  try {
    for (const open of [true, false]) {
      const first = await startServer(other, 64e6);
      await turned(open, first);
      await first.close();
      const second = await startServer(other, 64e6);
      expect((await stateOf(second)).open).toBe(open);
      await second.close();
    }
  } finally {
    await fs.rm(other, { recursive: true });
  }
});

it('they are turned by the machine itself only', async () => {
  const Cookie = await paired('Phone');
  const { status, text } = await outside('PUT', '/api/phone', { ...JSON_TYPE, Cookie }, '{"open":false}');
  expect([status, text]).toEqual([404, expect.stringContaining('Only available on the computer running Bexlen.') as string]);
  expect((await stateOf(running)).open).toBe(true);
});
