import http from 'node:http';
import https from 'node:https';
import type { AddressInfo } from 'node:net';
import type { RequestListener } from 'node:http';
import type { Request } from 'express';
import limit from 'p-limit';
import { BexlenError } from '@bexlen/core';
import type { Log } from '../log';
import { Certificates, type Credentials } from './certificates';

/** A way in: to the machine itself, to its network, or for a proxy that stands in front. */
export interface Door {
  readonly kind: 'home' | 'network' | 'proxy';
  /** Hosts that are answered to, with their port where it is not the usual one. */
  readonly names: readonly string[];
  readonly scheme: 'http' | 'https';
}

/** Longer than people rest between two changes: a request that meets a connection just being closed is sent twice. */
const KEEP_ALIVE_MS = 120_000;
/** How often is looked whether the machine has other addresses. */
const LOOK_MS = 10_000;

const doors = new WeakMap<object, Door>();

/** The door that a request came through. */
export function doorOf(req: Request): Door {
  const door = doors.get((req.socket as unknown as { server: object }).server);
  if (!door) throw new Error('a request came through no door');
  return door;
}

export interface NetworkWish {
  /** The addresses that are to be served now. */
  readonly addresses: () => readonly string[];
  /** Names by which the network may know this machine. */
  readonly names: readonly string[];
}

/** Opens and closes the doors, and keeps those to the network with the addresses that the machine has. */
export class Doors {
  private readonly open = new Map<string, https.Server>();
  private readonly others: http.Server[] = [];
  private readonly shut = new Map<string, string>();
  private certificates: Certificates | undefined;
  private credentials: Credentials | undefined;
  private wish: NetworkWish | undefined;
  private timer: NodeJS.Timeout | undefined;
  private port = 0;

  constructor(
    private readonly app: RequestListener,
    private readonly log: Log,
  ) {}

  /** Opens the door of the machine itself. Returns its port. */
  async home(port: number): Promise<number> {
    const server = http.createServer(this.app);
    this.port = await listen(server, port, '127.0.0.1');
    this.serves(server, { kind: 'home', scheme: 'http', names: [`127.0.0.1:${this.port}`, `localhost:${this.port}`] });
    return this.port;
  }

  /** Opens a door for a proxy on this machine, which stands in front under a name. Returns its port. */
  async proxy(origin: string, port: number): Promise<number> {
    const server = http.createServer(this.app);
    const taken = await listen(server, port, '127.0.0.1');
    this.serves(server, { kind: 'proxy', scheme: 'https', names: [new URL(origin).host] });
    return taken;
  }

  /** Opens doors to the network, now and whenever the machine gets other addresses. What stands against it is told by `state`. */
  async network(folder: string, wish: NetworkWish): Promise<void> {
    if (this.wish) return;
    this.wish = wish;
    try {
      this.certificates = await Certificates.open(folder);
    } catch (error) {
      const { message, hint = '' } = error as BexlenError;
      this.shut.set('', `${message} ${hint}`.trim());
      return;
    }
    await this.follow();
    // It was shut again meanwhile.
    if (this.wish !== wish) return;
    this.timer = setInterval(
      () => void this.follow().catch((error: unknown) => this.log.error({ err: error }, 'doors could not be opened')),
      LOOK_MS,
    );
    this.timer.unref();
  }

  /** Shuts the doors to the network; who comes by one is cut off. */
  async leaveNetwork(): Promise<void> {
    clearInterval(this.timer);
    this.wish = undefined;
    await this.oneAtATime(() => {
      for (const server of this.open.values()) {
        server.close();
        server.closeAllConnections();
      }
      this.open.clear();
      this.shut.clear();
      this.certificates = undefined;
      this.credentials = undefined;
    });
  }

  /** Whether the network is let in, as far as it can be. */
  get isOpen(): boolean {
    return this.wish !== undefined;
  }

  get state(): { addresses: string[]; faults: string[]; fingerprints: { machine: string; authority: string } | null } {
    const fingerprints =
      this.certificates && this.credentials ? { machine: this.credentials.fingerprint, authority: this.certificates.trusted.fingerprint } : null;
    return { addresses: [...this.open.keys()].map((address) => `https://${this.at(address)}`), faults: [...this.shut.values()], fingerprints };
  }

  /** The certificate that phones may trust (PEM); nothing where no door is open. */
  get authority(): string | undefined {
    return this.certificates?.trusted.pem;
  }

  close(): void {
    clearInterval(this.timer);
    for (const server of [...this.others, ...this.open.values()]) {
      server.close();
      server.closeAllConnections();
    }
  }

  private at(host: string): string {
    return this.port === 443 ? host : `${host}:${this.port}`;
  }

  private serves(server: http.Server, door: Door): void {
    server.keepAliveTimeout = KEEP_ALIVE_MS;
    doors.set(server, door);
    this.others.push(server);
  }

  private readonly oneAtATime = limit(1);

  /** Opens and closes doors as the addresses are now. */
  follow(): Promise<void> {
    return this.oneAtATime(() => this.toAddresses());
  }

  private async toAddresses(): Promise<void> {
    const { wish, certificates } = this;
    if (!wish || !certificates) return;
    const wanted = wish.addresses();
    this.shut.delete('');
    if (wanted.length === 0) this.shut.set('', NO_NETWORK);
    for (const [address, server] of this.open)
      if (!wanted.includes(address)) {
        server.close();
        server.closeAllConnections();
        this.open.delete(address);
      }
    for (const address of this.shut.keys()) if (address !== '' && !wanted.includes(address)) this.shut.delete(address);
    if (wanted.length === 0) return;
    const credentials = await certificates.for(wanted, wish.names);
    if (credentials.cert !== this.credentials?.cert) for (const server of this.open.values()) server.setSecureContext(credentials);
    this.credentials = credentials;
    for (const address of wanted) if (!this.open.has(address)) await this.openAt(address, credentials, wish.names);
  }

  private async openAt(address: string, { key, cert }: Credentials, names: readonly string[]): Promise<void> {
    const server = https.createServer({ key, cert, minVersion: 'TLSv1.2' }, this.app);
    try {
      await listen(server, this.port, address);
    } catch (error) {
      const { code } = error as { code?: string };
      const why =
        code === 'EADDRINUSE' ? `port ${this.port} is taken there. Give another with --port N.` : `the machine says ${code ?? String(error)}.`;
      this.shut.set(address, `${address} cannot be served: ${why}`);
      return;
    }
    this.shut.delete(address);
    server.keepAliveTimeout = KEEP_ALIVE_MS;
    doors.set(server, { kind: 'network', scheme: 'https', names: [address, ...names].map((host) => this.at(host)) });
    this.open.set(address, server);
  }
}

const NO_NETWORK =
  'This machine has no address in a network of its own. Join the network that the phone is in: the door opens by itself. Public addresses are not served; put a proxy in front and start with --origin https://NAME.';

function listen(server: http.Server, port: number, address: string): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, address, () => {
      server.off('error', reject);
      resolve((server.address() as AddressInfo).port);
    });
  });
}
