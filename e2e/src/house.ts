import { execFile, spawn, type ChildProcess } from 'node:child_process';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import pino from 'pino';

const root = path.resolve(import.meta.dirname, '../..');
/** How V8 was told to run the tests, which a program that they start is told too. */
const brief = process.execArgv.filter((flag) => /^--(interrupt|wasm|single|min|max)-/.test(flag));
/** Copies of the demo photos for stories, which need no more of them than a phone shows. */
export const SMALL = path.join(root, 'build/story-photos');
export const demo = (file: string): string => path.join(SMALL, file);
/** A demo photo as large as it is. */
export const demoWhole = (file: string): string => path.join(root, 'demo', file);

/** Names the folder with an empty shelf that stories begin with. */
export const EMPTY = 'BEXLEN_EMPTY_SHELF';

/** A server at work. */
interface Running {
  readonly address: string;
  /** Of one that is a process of its own. */
  readonly pid?: number | undefined;
  readonly stop: (signal: 'SIGTERM' | 'SIGKILL') => Promise<void>;
}
type Env = Readonly<Record<string, string>>;
type Begin = typeof import('../../server/src/main').begin;

/** The built server in this process: most of what one of its own takes to begin is taken once. */
async function here(words: readonly string[], env: Env): Promise<Running> {
  process.umask(0o077);
  const { begin } = (await import(path.join(root, 'build/server.mjs'))) as { begin: Begin };
  const begun = await begin(words, { ...process.env, ...env }, root, pino({ level: 'warn' }, pino.destination(2)));
  if (!begun) throw new Error('it was only asked for its use');
  const { running } = begun;
  const stop = (signal: string): Promise<void> => {
    if (signal === 'SIGKILL') throw new Error('only a server that is a process of its own can be killed');
    return running.close();
  };
  return { address: running.address, stop };
}

/** The built server as a process of its own. */
async function alone(words: readonly string[], env: Env): Promise<Running> {
  const child: ChildProcess = spawn(process.execPath, [...brief, 'build/server.mjs', ...words], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, ...env },
  });
  const gone = new Promise<number | null>((resolve) => child.once('exit', resolve));
  const address = await new Promise<string>((resolve, reject) => {
    void gone.then((code) => reject(new Error(`the server ended with ${code}`)));
    child.stdout?.on('data', (text: Buffer) => {
      const [, at] = /at (http:\S+)/.exec(String(text)) ?? [];
      if (at) resolve(at);
    });
  });
  const stop = async (signal: 'SIGTERM' | 'SIGKILL'): Promise<void> => {
    child.kill(signal);
    await gone;
  };
  return { address, pid: child.pid, stop };
}

/** A server of a story's own, on a data folder of its own, with an empty shelf. */
export class House {
  private running: Running | undefined;
  address = '';

  private constructor(
    readonly data: string,
    private readonly begin: typeof here,
    private readonly flags: readonly string[],
    private readonly env: Env,
  ) {}

  /** @param begin `alone` for one that can be killed. */
  static async open(flags: readonly string[] = ['--empty'], env: Env = {}, begin: 'here' | 'alone' = 'here'): Promise<House> {
    const data = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-story-'));
    // To lay a database out takes seconds: it was done once, and is copied.
    if (process.env[EMPTY]) await promisify(execFile)('cp', ['-r', `${process.env[EMPTY]}/.`, data]);
    const house = new House(data, begin === 'alone' ? alone : here, flags, env);
    await house.start();
    return house;
  }

  /** Starts, on the same port and folder as before. */
  async start(): Promise<void> {
    this.running = await this.begin(['--data', this.data, '--port', String(this.port), ...this.flags], this.env);
    this.address = this.running.address;
  }

  get pid(): number | undefined {
    return this.running?.pid;
  }

  private get port(): number {
    return this.address ? Number(new URL(this.address).port) : 0;
  }

  async stop(signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<void> {
    const { running } = this;
    this.running = undefined;
    await running?.stop(signal);
  }

  async close(): Promise<void> {
    await this.stop();
    await fs.rm(this.data, { recursive: true, force: true });
  }

  /** Where phones find it, if it was started so. */
  outside(address: string): string {
    return `https://${address}:${this.port}`;
  }

  async get<T>(where: string): Promise<T> {
    return (await (await fetch(`${this.address}/api${where}`)).json()) as T;
  }
}
