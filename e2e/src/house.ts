import { spawn, type ChildProcess } from 'node:child_process';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';

const root = path.resolve(import.meta.dirname, '../..');
export const demo = (file: string): string => path.join(root, 'demo', file);

/** Names the folder with an empty shelf that stories begin with. */
export const EMPTY = 'BEXLEN_EMPTY_SHELF';

/** A server of a story's own, on a data folder of its own, with an empty shelf. */
export class House {
  private process: ChildProcess | undefined;
  address = '';

  private constructor(
    readonly data: string,
    private port: number,
    private readonly flags: readonly string[],
    private readonly env: Readonly<Record<string, string>>,
  ) {}

  static async open(flags: readonly string[] = ['--empty'], env: Readonly<Record<string, string>> = {}): Promise<House> {
    const data = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-story-'));
    // To lay a database out takes seconds: it was done once, and is copied.
    if (process.env[EMPTY]) await fs.cp(process.env[EMPTY], data, { recursive: true });
    const house = new House(data, 0, flags, env);
    await house.start();
    return house;
  }

  /** Starts, on the same port and folder as before. */
  async start(): Promise<void> {
    const child = spawn(process.execPath, ['build/server.mjs', '--data', this.data, '--port', String(this.port), ...this.flags], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'inherit'],
      env: { ...process.env, ...this.env },
    });
    this.process = child;
    this.address = await new Promise<string>((resolve, reject) => {
      child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)));
      child.stdout?.on('data', (text: Buffer) => {
        const [, address] = /at (http:\S+)/.exec(String(text)) ?? [];
        if (address) resolve(address);
      });
    });
    this.port = Number(new URL(this.address).port);
  }

  get pid(): number | undefined {
    return this.process?.pid;
  }

  async stop(signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<void> {
    const child = this.process;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    await new Promise((resolve) => {
      child.once('exit', resolve);
      child.kill(signal);
    });
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
