import fs from 'node:fs/promises';
import https from 'node:https';
import net from 'node:net';
import path from 'node:path';
import { connect } from 'node:tls';
import { isOwn } from '../src/door/addresses';
import { Certificates } from '../src/door/certificates';
import { newFolder } from './server';

const ADDRESS = '127.0.0.2';
describe('certificates', () => {
  const DAY = 86_400_000;
  let place = '';
  beforeEach(async () => {
    place = path.join(await newFolder(), 'phone');
  });
  afterEach(() => fs.rm(path.dirname(place), { recursive: true }));

  it('are made once and kept; a broken one of this machine is made anew, behind the same authority', async () => {
    const first = await (await Certificates.open(place)).for([ADDRESS], []);
    expect(await (await Certificates.open(place)).for([ADDRESS], [])).toEqual(first);
    await fs.writeFile(path.join(place, 'certificate.pem'), 'broken');
    const again = await Certificates.open(place);
    const next = await again.for([ADDRESS], []);
    expect(next.cert).not.toBe(first.cert);
    expect(next.cert.split('-----BEGIN')[2]).toBe(first.cert.split('-----BEGIN')[2]);
    expect((await fs.stat(path.join(place, 'authority-key.pem'))).mode & 0o777).toBe(0o600);
  });

  it.each([
    ['authority.pem', 'broken'],
    ['authority-key.pem', 'broken'],
    ['authority.pem', undefined],
    ['authority-key.pem', undefined],
  ])('of a broken authority end in a sentence, and nothing is overwritten: %s %s', async (file, text) => {
    await Certificates.open(place);
    const kept = await fs.readFile(path.join(place, file === 'authority.pem' ? 'authority-key.pem' : 'authority.pem'), 'utf8');
    await (text === undefined ? fs.rm(path.join(place, file)) : fs.writeFile(path.join(place, file), text));
    await expect(Certificates.open(place)).rejects.toMatchObject({ code: 'damaged-file', hint: /Move authority\.pem/ });
    expect(await fs.readFile(path.join(place, file === 'authority.pem' ? 'authority-key.pem' : 'authority.pem'), 'utf8')).toBe(kept);
  });

  it('hold for clocks that are a day off, and are made anew before they run out', async () => {
    let now = Date.now();
    const certificates = await Certificates.open(place, () => now);
    const first = await certificates.for([ADDRESS], []);
    for (const days of [-1, 1]) {
      now = Date.now() + days * DAY;
      expect((await certificates.for([ADDRESS], [])).cert).toBe(first.cert);
    }
    now = Date.now() + 340 * DAY;
    expect((await certificates.for([ADDRESS], [])).cert).not.toBe(first.cert);
  });

  it('are trusted by who trusts the authority, for networks of one’s own and nothing else', async () => {
    const certificates = await Certificates.open(place);
    const ca = certificates.trusted.pem;
    const shake = async (addressesOf: string[], names: string[], host: string): Promise<string> => {
      const { key, cert } = await certificates.for(addressesOf, names);
      const server = https.createServer({ key, cert });
      await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
      const { port: at } = server.address() as net.AddressInfo;
      const told = await new Promise<string>((resolve) => {
        const socket = connect(
          { host: '127.0.0.1', port: at, ca, ...(net.isIP(host) ? { checkServerIdentity: () => undefined } : { servername: host }) },
          () => resolve('trusted'),
        );
        socket.on('error', ({ message }) => resolve(message));
      });
      server.close();
      server.closeAllConnections();
      return told;
    };
    expect(await shake(['192.168.1.20', '10.1.2.3'], ['darkroom.local'], 'darkroom.local')).toBe('trusted');
    expect(await shake(['8.8.8.8'], [], '8.8.8.8')).toMatch(/permitted subtree/);
    expect(await shake(['127.0.0.1'], ['bank.example'], 'bank.example')).toMatch(/permitted subtree/);
  });

  it('are made for addresses of networks of one’s own', () => {
    expect(['10.0.0.5', '172.20.1.1', '192.168.0.9', '100.64.3.2', '127.0.0.2'].every(isOwn)).toBe(true);
    expect(['8.8.8.8', '172.32.0.1', '192.169.0.1', 'localhost', '::1', 'fe80::1', '10.0.0', ''].some(isOwn)).toBe(false);
  });
});
