import fs from 'node:fs/promises';
import http from 'node:http';
import https from 'node:https';
import net from 'node:net';
import path from 'node:path';
import type { Device, PairingCode, PhoneState } from '@bexlen/api';
import { CODE_MS, Codes } from '../src/door/codes';
import express from 'express';
import { localName } from '../src/door/addresses';
import { Doors } from '../src/door/doors';
import { newLog } from '../src/log';
import { openDb } from '../src/store/db';
import { databaseOf, newFolder, soon, startServer, type Running } from './server';

const ADDRESS = '127.0.0.2';
const NAME = 'studio.example';
/** The name by which this machine's network finds it. */
const MACHINE = localName() ?? ADDRESS;

interface Raw {
  readonly status: number;
  readonly headers: http.IncomingHttpHeaders;
  readonly text: string;
  readonly body: Record<string, never> & { code?: string; message?: string; hint?: string };
}

let folder = '';
let running: Running;
let authority = '';
beforeAll(async () => {
  folder = await newFolder();
  running = await startServer(folder, 256e6, ['--at', ADDRESS, '--origin', `https://${NAME}`]);
  authority = await fs.readFile(path.join(folder, 'data/phone/authority.pem'), 'utf8');
});
afterAll(async () => {
  await running.close();
  await fs.rm(folder, { recursive: true });
});

const port = (): number => Number(new URL(running.address).port);
const sizesIn = async (at: string): Promise<number[]> =>
  Promise.all((await fs.readdir(at)).map(async (name) => (await fs.stat(path.join(at, name))).size));

/** A request through the door of the network, checked against the authority. */
function outside(method: string, where: string, headers: http.OutgoingHttpHeaders = {}, body = '', host = ADDRESS): Promise<Raw> {
  return ask(
    https.request,
    { host, port: port(), path: where, method, headers, ca: authority, agent: false, checkServerIdentity: () => undefined },
    body,
  );
}

function ask(
  request: (options: https.RequestOptions, heard: (res: http.IncomingMessage) => void) => http.ClientRequest,
  options: https.RequestOptions,
  body: string,
): Promise<Raw> {
  return new Promise((resolve, reject) => {
    const req = request(options, (res) => {
      let text = '';
      res.on('data', (part: Buffer) => (text += String(part)));
      res.on('error', reject);
      res.on('end', () => resolve({ status: res.statusCode ?? 0, headers: res.headers, text, body: text.startsWith('{') ? JSON.parse(text) : {} }));
    });
    req.on('error', reject);
    req.end(body);
  });
}

const home = async <T>(method: string, where: string): Promise<T> => {
  const answer = await fetch(`${running.address}/api${where}`, { method });
  return (answer.status === 204 ? undefined : await answer.json()) as T;
};
const JSON_TYPE = { 'Content-Type': 'application/json' };
const newCode = (): Promise<PairingCode> => home('POST', '/phone/codes');
const show = (code: string, name?: string): Promise<Raw> => outside('POST', '/pair', JSON_TYPE, JSON.stringify({ code, ...(name && { name }) }));
const cookieOf = ({ headers }: Raw): string => String(headers['set-cookie']?.[0]).split(';')[0] ?? '';
async function paired(name?: string): Promise<string> {
  return cookieOf(await show((await newCode()).code, name));
}

describe('who is not paired', () => {
  it.each(['/api/photos', '/api/events', '/api/phone', '/api/phone/me', '/api/exports/x/file', '/engine/x.js', '/_expo/x.js', '/base.css', '/sw.js'])(
    'gets nothing of %s',
    async (where) => {
      const { status, body } = await outside('GET', where);
      expect([status, body.code]).toEqual([401, 'not-paired']);
      expect(body.hint).toMatch(/scan the code/);
    },
  );

  it.each([
    ['POST', '/api/photos'],
    ['POST', '/api/phone/codes'],
    ['PUT', '/api/versions/x'],
    ['DELETE', '/api/phone/devices/x'],
    ['POST', '/api/uploads'],
    ['POST', '/'],
  ])('changes nothing by %s %s', async (method, where) => {
    expect((await outside(method, where, JSON_TYPE, method === 'DELETE' ? '' : '{}')).status).toBe(401);
  });

  it('is led to the pairing page, which is there with all its parts', async () => {
    const led = await outside('GET', '/bench/some-version', { Accept: 'text/html' });
    expect([led.status, led.headers.location]).toEqual([302, '/pair']);
    const page = await outside('GET', '/pair', { Accept: 'text/html' });
    expect(page.status).toBe(200);
    const parts = [...page.text.matchAll(/(?:src|href)="(\/[^"]+)"/g)].map(([, part]) => part as string).filter((part) => part !== '/mark.svg');
    expect(parts.sort()).toEqual(['/authority.crt', '/pair.css', '/pair.js']);
    for (const part of parts) expect((await outside('GET', part)).status).toBe(200);
    expect(page.headers['content-security-policy']).toContain("default-src 'none'");
  });

  it('gets the authority that it may trust, and no key', async () => {
    const { text, headers } = await outside('GET', '/authority.crt');
    expect(text).toBe(authority);
    expect(headers['content-type']).toMatch(/x-x509-ca-cert/);
  });
});

describe('a code', () => {
  it('lets one device in, which is listed under its name and has a cookie that scripts and other sites do not get', async () => {
    const { code, link } = await newCode();
    expect(link).toBe(`https://${NAME}/pair#${code}`);
    expect(code.replace(/-/g, '')).toMatch(/^[A-Z2-9]{26}$/);
    const answer = await show(code.toLowerCase().replace(/-/g, ' '), 'Phone of Ada');
    expect(answer.status).toBe(201);
    expect(answer.headers['set-cookie']?.[0]).toMatch(
      /^__Host-bexlen-device=[\w-]{43}; Max-Age=\d+; Path=\/; Expires=[^;]+; HttpOnly; Secure; SameSite=Strict$/,
    );
    const Cookie = cookieOf(answer);
    expect((await outside('GET', '/api/photos', { Cookie })).status).toBe(200);
    const { devices } = await home<PhoneState>('GET', '/phone');
    expect(devices.map(({ name }) => name)).toContain('Phone of Ada');
    expect((await outside('GET', '/api/phone/me', { Cookie })).body['device']).toMatchObject({ name: 'Phone of Ada' });
    expect((await show(code)).body.message).toBe('This code was used already.');
  });

  it('is named after its machine where nobody says how', async () => {
    const { code } = await newCode();
    const agent = 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_1 like Mac OS X)';
    const { body } = await outside('POST', '/pair', { ...JSON_TYPE, 'User-Agent': agent }, JSON.stringify({ code }));
    expect(body['device']).toMatchObject({ name: 'iPhone' });
  });

  it('is refused with its reason: wrong, used, late, none, in whichever process it is shown', async () => {
    const folder = await newFolder();
    const db = await openDb(await databaseOf(folder), path.join(import.meta.dirname, '../src/store/migrations'));
    const [codes, others] = [new Codes(db), new Codes(db)];
    const later = (ms: number) => db.query('UPDATE pairing_codes SET until = until - make_interval(secs => $1)', [ms / 1000]);
    const [first, second] = [(await codes.make()).code, (await codes.make()).code];
    await expect(codes.take('ABCDE')).rejects.toThrow('not known');
    await expect(codes.take('')).rejects.toThrow('not known');
    await others.take(first);
    await expect(codes.take(first)).rejects.toThrow('used already');
    await later(CODE_MS + 1);
    await expect(codes.take(second)).rejects.toThrow('older than five minutes');
    const late = (await codes.make()).code;
    await later(CODE_MS - 60_000);
    await codes.take(late);
    const [oldest] = [(await codes.make()).code, await codes.make(), await codes.make(), await codes.make(), await codes.make()];
    await expect(codes.take(oldest)).rejects.toThrow('not known');
    await db.close();
    await fs.rm(folder, { recursive: true });
  });

  it.each([
    ['no JSON', '{'],
    ['no code', '{}'],
    ['another field', '{"code":"x","device":"y"}'],
    ['a number', '{"code":5}'],
  ])('that is written wrongly is refused: %s', async (_, body) => {
    expect((await outside('POST', '/pair', JSON_TYPE, body)).status).toBe(400);
  });

  it('is hopeless to guess: two hundred tries get ten answers, those who are in stay in, and others come in', async () => {
    const Cookie = await paired();
    const agent = new http.Agent({ keepAlive: true, maxSockets: 8 });
    const from = (address: string, code: string): Promise<Raw> => {
      const headers = { ...JSON_TYPE, Host: NAME, 'X-Forwarded-For': address };
      return ask(
        http.request,
        { host: '127.0.0.1', port: running.proxyPort, path: '/pair', method: 'POST', headers, agent },
        JSON.stringify({ code }),
      );
    };
    const counts = new Map<number, number>();
    for (let i = 0; i < 200; i += 100)
      for (const { status } of await Promise.all(Array.from({ length: 100 }, (_, k) => from('203.0.113.9', `GUESS-${i + k}`))))
        counts.set(status, (counts.get(status) ?? 0) + 1);
    expect(counts.get(403) ?? 0).toBeLessThanOrEqual(10);
    expect(counts.get(429)).toBeGreaterThanOrEqual(190);
    const { code } = await newCode();
    const { status, body } = await from('203.0.113.9', code);
    expect([status, body.message]).toEqual([429, 'Too many codes were tried.']);
    expect((await outside('GET', '/api/photos', { Cookie })).status).toBe(200);
    // What the guesser says of where it comes from is not believed: the proxy's word stands last.
    expect((await from('198.51.100.7, 203.0.113.9', code)).status).toBe(429);
    expect((await from('198.51.100.7', code)).status).toBe(201);
    agent.destroy();
  });
});

describe('a device', () => {
  const through = (method: string, where: string, headers: http.OutgoingHttpHeaders = {}, body = ''): Promise<Raw> =>
    ask(http.request, { host: '127.0.0.1', port: running.proxyPort, path: where, method, headers: { Host: NAME, ...headers }, agent: false }, body);
  const letIn = async (): Promise<{ Cookie: string; id: string }> => {
    const answer = await through('POST', '/pair', JSON_TYPE, JSON.stringify({ code: (await newCode()).code }));
    return { Cookie: cookieOf(answer), id: (answer.body['device'] as unknown as Device).id };
  };

  it('that is sent away is cut off at once, in the middle of what it hears and what it sends', async () => {
    const { Cookie, id } = await letIn();
    const events = new Promise<string>((resolve) => {
      const req = http.get({ host: '127.0.0.1', port: running.proxyPort, path: '/api/events', headers: { Host: NAME, Cookie } }, (res) => {
        res.resume();
        res.on('close', () => resolve('broken off'));
      });
      req.on('error', () => resolve('broken off'));
    });
    const tus = { Host: NAME, Cookie, 'Tus-Resumable': '1.0.0' };
    const begun = await through('POST', '/api/uploads', { ...tus, 'Upload-Length': '1000000' });
    const where = new URL(String(begun.headers.location), 'http://at').pathname;
    const upload = new Promise<string>((resolve) => {
      const headers = { ...tus, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream', 'Content-Length': 1e6 };
      const req = http.request({ host: '127.0.0.1', port: running.proxyPort, path: where, method: 'PATCH', headers }, () => resolve('answered'));
      req.on('error', () => resolve('broken off'));
      req.write('abc');
    });
    await soon(async () => expect(await sizesIn(path.join(folder, 'data/uploads'))).toContain(3));
    await home('DELETE', `/phone/devices/${id}`);
    expect(await Promise.all([events, upload])).toEqual(['broken off', 'broken off']);
    const after = await through('GET', '/api/photos', { Cookie });
    expect([after.status, after.body.code]).toEqual([401, 'not-paired']);
    expect((await home<PhoneState>('GET', '/phone')).devices.map((device) => device.id)).not.toContain(id);
  });

  it('may leave by itself, but neither make codes nor see or send away others', async () => {
    const [mine, other] = [await letIn(), await letIn()];
    const { Cookie } = mine;
    for (const [method, where] of [
      ['GET', '/api/phone'],
      ['POST', '/api/phone/codes'],
      ['DELETE', `/api/phone/devices/${other.id}`],
      ['PATCH', `/api/phone/devices/${mine.id}`],
    ] as const)
      expect((await through(method, where, { Cookie, ...JSON_TYPE }, '')).status).toBe(404);
    expect((await through('GET', '/api/photos', { Cookie: other.Cookie })).status).toBe(200);
    expect((await through('DELETE', `/api/phone/devices/${mine.id}`, { Cookie })).status).toBe(204);
    await soon(async () => expect((await through('GET', '/api/photos', { Cookie })).status).toBe(401));
  });

  it.each(['', 'x', 'a'.repeat(43), '%00', `${'a'.repeat(43)}; __Host-bexlen-device=b`])('cannot be made up: %s', async (secret) => {
    expect((await through('GET', '/api/photos', { Cookie: `__Host-bexlen-device=${secret}` })).status).toBe(401);
  });

  it('behind a proxy is answered under the name of the proxy only', async () => {
    const { Cookie } = await letIn();
    const forHost = (Host: string, more = {}): Promise<Raw> => through('GET', '/api/photos', { Cookie, Host, ...more });
    expect((await forHost(NAME, { Origin: `https://${NAME}` })).status).toBe(200);
    for (const Host of [`127.0.0.1:${running.proxyPort}`, `127.0.0.1:${port()}`, 'localhost', 'evil.example', `${NAME}:80`])
      expect((await forHost(Host)).status).toBe(421);
    expect((await forHost(NAME, { Origin: `http://${NAME}` })).status).toBe(403);
  });
});

describe('the doors', () => {
  it.each(['evil.example', `localhost`, `127.0.0.1`, `${ADDRESS}`, `${MACHINE}`, `evil.local:PORT`, `127.0.0.3:PORT`, `127.0.0.1:PORT`])(
    'of the network answer to no other host: %s',
    async (host) => {
      const { status } = await outside('GET', '/pair', { Host: host.replace('PORT', String(port())) });
      expect(status).toBe(421);
    },
  );

  it('of the network answer to their address and their name', async () => {
    expect((await outside('GET', '/pair')).status).toBe(200);
    expect((await outside('GET', '/pair', { Host: `${MACHINE}:${port()}` })).status).toBe(200);
  });

  it('refuse other origins and writes that another site sends', async () => {
    for (const headers of [
      { Origin: 'https://evil.example' },
      { Origin: `http://${ADDRESS}:${port()}` },
      { Origin: running.address },
      { Origin: 'null' },
      { 'Sec-Fetch-Site': 'cross-site' },
      { 'Sec-Fetch-Site': 'same-site' },
    ])
      expect((await outside('POST', '/pair', { ...JSON_TYPE, ...headers }, '{"code":"x"}')).status).toBe(403);
  });

  it('of the network speak no plain HTTP, and that of the machine is not to be had under the network’s address', async () => {
    const plain = ask(http.request, { host: ADDRESS, port: port(), path: '/api/photos', agent: false }, '');
    await expect(plain).rejects.toThrow();
    const rebound = await ask(
      http.request,
      { host: '127.0.0.1', port: port(), path: '/api/photos', headers: { Host: `${ADDRESS}:${port()}` }, agent: false },
      '',
    );
    expect(rebound.status).toBe(421);
  });
});

it('doors follow the addresses of the machine, with a certificate for them', async () => {
  let addresses = [ADDRESS];
  const own = await newFolder();
  const app = express().use((_req, res) => void res.status(200).end());
  const doors = new Doors(app, newLog('silent'));
  const at = await doors.home(0);
  const answers = (host: string): Promise<boolean> =>
    new Promise((resolve) => {
      const req = https.get({ host, port: at, rejectUnauthorized: false, agent: false }, (res) => (res.resume(), resolve(res.statusCode === 200)));
      req.on('error', () => resolve(false));
    });
  try {
    await doors.network(own, { addresses: () => addresses, names: [] });
    const before = doors.state;
    addresses = [ADDRESS, '127.0.0.3'];
    await doors.follow();
    expect([await answers('127.0.0.3'), await answers(ADDRESS)]).toEqual([true, true]);
    expect(doors.state.fingerprints?.machine).not.toBe(before.fingerprints?.machine);
    expect(doors.state.fingerprints?.authority).toBe(before.fingerprints?.authority);
    addresses = [];
    await doors.follow();
    expect(await answers(ADDRESS)).toBe(false);
    expect(doors.state.faults.join()).toMatch(/no address in a network of its own/);
    const taken = net.createServer();
    await new Promise<void>((resolve) => taken.listen(at, '127.0.0.4', () => resolve()));
    addresses = [ADDRESS, '127.0.0.4'];
    await doors.follow();
    expect(doors.state.faults.join()).toMatch(/127\.0\.0\.4 cannot be served: port \d+ is taken there/);
    expect(await answers(ADDRESS)).toBe(true);
    await new Promise((resolve) => taken.close(resolve));
  } finally {
    doors.close();
    await fs.rm(own, { recursive: true });
  }
});

it('a device that leaves twice at once is gone, and the server goes on', async () => {
  const Cookie = await paired('Leaver');
  const { body } = await outside('GET', '/api/phone/me', { Cookie });
  const { id } = (body as unknown as { device: Device }).device;
  await Promise.allSettled([1, 2, 3].map(() => outside('DELETE', `/api/phone/devices/${id}`, { Cookie })));
  expect((await outside('GET', '/api/photos', { Cookie })).status).toBe(401);
  expect((await fetch(`${running.address}/api/photos`)).status).toBe(200);
  expect(running.log()).toBe('');
});
