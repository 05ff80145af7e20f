import { fork, type ChildProcess } from 'node:child_process';
import { BexlenError, type Rect } from '@bexlen/core';
import type { Source } from './decode';
import type { Inspected } from './inspect';
import { TOO_MUCH, type Answer, type Order } from './reader';

/** Readers that work at the same time, what each may take, and how long an idle one stays. */
const MOST = 2;
const MOST_BYTES = 760e6;
/** What pixels may take beyond what looking at a file does: what could be looked at once can always be opened. */
const FOR_PIXELS = 240e6;
const MOST_MS = 60_000;
const PATIENCE_MS = 30_000;

interface Reader {
  readonly child: ChildProcess;
  busy: boolean;
  patience?: NodeJS.Timeout;
}

/**
 * Files of strangers are decoded in processes of their own, each with a limit of memory and of time: whatever a file does there ends in a sentence, and nobody
 * else waits for it.
 */
export class Readers {
  private readonly readers: Reader[] = [];
  private readonly waiting: (() => void)[] = [];
  private closed = false;

  /** @param file the built program of a reader. */
  constructor(
    private readonly file: string,
    private readonly limits: { readonly bytes: number; readonly ms: number } = { bytes: MOST_BYTES, ms: MOST_MS },
  ) {}

  /** Looks at a file and reads it from end to end; its JPEG for the shelf is written to `to`, and what a HEIC photo is developed into to `developed`. */
  async inspect(file: string, name: string, to: string, developed?: string): Promise<Inspected> {
    const done = await this.order({ do: 'inspect', file, name, to, developed }, name);
    if (done === true) throw new Error('a reader gave no facts');
    return done;
  }

  /** Pixels of an original that fit a long edge, or of a rectangle of it, as a portable arbitrary map written to `to`. */
  async pixels(source: Source, edge: number, to: string, part?: Rect): Promise<void> {
    await this.order({ do: 'pixels', source, edge, to, ...(part && { part }) }, 'This photo', FOR_PIXELS);
  }

  /** Develops a HEIC photo into a PNG of the same pixels. */
  async develop(file: string, name: string, to: string): Promise<void> {
    await this.order({ do: 'develop', file, name, to }, name, FOR_PIXELS);
  }

  async close(): Promise<void> {
    this.closed = true;
    await Promise.all(this.readers.map(({ child }) => new Promise((resolve) => (child.once('exit', resolve), child.kill('SIGKILL')))));
  }

  private async order(order: Order, name: string, more = 0): Promise<Inspected | true> {
    const reader = await this.free();
    const { child } = reader;
    return new Promise<Inspected | true>((resolve, reject) => {
      const timer = setTimeout(() => child.kill('SIGKILL'), this.limits.ms);
      const end = (): void => {
        clearTimeout(timer);
        child.off('message', hear);
        child.off('exit', gone);
      };
      const hear = (answer: Answer): void => {
        end();
        this.rest(reader);
        if ('done' in answer) resolve(answer.done);
        else if ('fault' in answer) reject(new BexlenError(answer.fault.code, answer.fault.message, answer.fault.hint));
        else reject(new Error(answer.error));
      };
      const gone = (code: number | null): void => {
        end();
        this.forget(reader);
        reject(code === TOO_MUCH ? tooMuch(name) : cannot(name));
      };
      child.on('message', hear);
      child.on('exit', gone);
      child.send({ ...order, mostBytes: this.limits.bytes + more }, (error) => error && child.kill('SIGKILL'));
    });
  }

  /** A reader that has nothing to do; a new one where there may be more; else the first that gets free. */
  private async free(): Promise<Reader> {
    for (;;) {
      if (this.closed) throw new BexlenError('cancelled', 'The server is being stopped.', 'Try again when it is back.');
      const idle = this.readers.find(({ busy }) => !busy) ?? (this.readers.length < MOST ? this.begin() : undefined);
      if (idle) {
        idle.busy = true;
        clearTimeout(idle.patience);
        return idle;
      }
      await new Promise<void>((resolve) => this.waiting.push(resolve));
    }
  }

  private begin(): Reader {
    const child = fork(this.file, [], {
      serialization: 'advanced',
      execArgv: [],
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    const reader: Reader = { child, busy: false };
    this.readers.push(reader);
    child.once('exit', () => this.forget(reader));
    return reader;
  }

  private rest(reader: Reader): void {
    reader.busy = false;
    reader.patience = setTimeout(() => reader.child.kill(), PATIENCE_MS).unref();
    this.waiting.shift()?.();
  }

  private forget(reader: Reader): void {
    clearTimeout(reader.patience);
    const at = this.readers.indexOf(reader);
    if (at >= 0) this.readers.splice(at, 1);
    this.waiting.shift()?.();
  }
}

const tooMuch = (name: string): BexlenError =>
  new BexlenError(
    'too-many-pixels',
    `${name} takes more memory to read than Bexlen allows.`,
    'Make it smaller, or save it anew, not interlaced or progressive, and import it again.',
  );
const cannot = (name: string): BexlenError =>
  new BexlenError(
    'damaged-picture',
    `${name} cannot be read: the attempt had to be given up.`,
    'Save it anew with another program, then import that.',
  );
