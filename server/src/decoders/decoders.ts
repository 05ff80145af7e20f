import { spawn, type ChildProcess, type SpawnOptions } from 'node:child_process';
import fs from 'node:fs';
import { BexlenError, type Rect } from '@bexlen/core';
import type { Policy } from '@bexlen/api';
import type { Ora } from '../ora/read';
import type { Source } from '@bexlen/render/decode/decode';
import type { Inspected } from '@bexlen/render/decode/inspect';
import { isRawFormat, rawFormatOf } from '@bexlen/render/decode/raw';
import type { Carried } from '@bexlen/render/decode/metadata';
import { TOO_MUCH, type Answer, type Done, type Order } from './decoder';

/** Decoders that work at the same time, what each may take, and how long an idle one stays. */
const MOST = 2;
const MOST_BYTES = 760e6;
/** What pixels may take beyond what looking at a file does: what could be looked at once can always be opened. */
const FOR_PIXELS = 240e6;
/** The same for what a sensor saw, which is held several times over while it is developed. */
const FOR_RAW = 440e6;
/** Where the system has what it takes, it ends a reader with the process that began it, in the middle of a file too (prctl(2), PR_SET_PDEATHSIG). */
const WITH_PARENT = 'with=; setpriv --pdeathsig KILL true 2>/dev/null && with="setpriv --pdeathsig KILL"';
/** What the system itself lets none exceed, in writable memory: the last line, should nobody look in time. */
const HARD_BYTES = 400e6;
/** What one may hold on to after a raw file. */
const KEPT_BYTES = 250e6;
const MOST_MS = 60_000;
const PATIENCE_MS = 30_000;
/** How often a working decoder's memory is looked at from outside. */
const LOOK_MS = 10;

/** What somebody looks at goes before what is made for later, and that before what only has to be done. */
export type Urgency = 'seen' | 'soon' | 'later';
const RANK: Record<Urgency, number> = { seen: 0, soon: 1, later: 2 };

/** For whom something is read, and whether it is still wanted. */
export interface Wish {
  readonly urgency?: Urgency;
  readonly signal?: AbortSignal | undefined;
}

interface Decoder {
  readonly child: ChildProcess;
  busy: boolean;
  patience?: NodeJS.Timeout;
}

interface Waiting {
  readonly rank: number;
  readonly go: () => void;
}

/**
 * Files of strangers are read in processes of their own, each with a limit of memory and of time: whatever a file does there ends in a sentence, and nobody
 * else waits for it.
 */
export class Decoders {
  private readonly decoders: Decoder[] = [];
  private waiting: Waiting[] = [];
  private closed = false;

  /** @param file the built program of a decoder. */
  constructor(
    private readonly file: string,
    private readonly limits: { readonly bytes: number; readonly ms: number } = { bytes: MOST_BYTES, ms: MOST_MS },
  ) {}

  /** Looks at a file and reads it from end to end; its JPEG for the shelf is written to `to`, and what a HEIC photo or a raw file is developed into to `developed`. */
  async inspect(file: string, name: string, to: string, developed?: string): Promise<Inspected> {
    return this.order({ do: 'inspect', file, name, to, developed }, name, {}, rawFormatOf(name) ? FOR_RAW : 0);
  }

  /** Pixels of an original that fit a long edge, or of a rectangle of it, as a portable arbitrary map written to `to`. */
  async pixels(source: Source, edge: number, to: string, part?: Rect, wish: Wish = {}): Promise<void> {
    await this.order({ do: 'pixels', source, edge, to, ...(part && { part }) }, 'This photo', wish, FOR_PIXELS);
  }

  /** The small JPEG of the picture that a camera stored in its raw file, if it stored one. */
  preview(file: string, name: string): Promise<Uint8Array | undefined> {
    return this.order({ do: 'preview', file, name }, name, { urgency: 'seen' });
  }

  /** Develops a photo of a format that is not read as it is into a PNG. */
  async develop(file: string, name: string, format: string, to: string): Promise<void> {
    await this.order({ do: 'develop', file, name, format, to }, name, {}, isRawFormat(format) ? FOR_RAW : FOR_PIXELS);
  }

  /** What a file of some size carries over of an original's metadata, and what it does not. */
  metadata(file: string, policy: Policy, size: { readonly width: number; readonly height: number }): Promise<Carried> {
    return this.order({ do: 'metadata', file, policy, size }, 'The metadata of this photo');
  }

  /** The layers of an OpenRaster file, with their pictures unpacked into a folder. */
  layers(file: string, into: string): Promise<Ora> {
    return this.order({ do: 'layers', file, into }, 'This file of layers');
  }

  async close(): Promise<void> {
    this.closed = true;
    await Promise.all(this.decoders.map(({ child }) => new Promise((resolve) => (child.once('exit', resolve), child.kill('SIGKILL')))));
  }

  private async order<O extends Order>(order: O, name: string, wish: Wish = {}, more = 0): Promise<Done[O['do']]> {
    const decoder = await this.free(wish);
    const { child } = decoder;
    const mostBytes = this.limits.bytes + more;
    return new Promise((resolve, reject) => {
      let over = false;
      const timer = setTimeout(() => child.kill('SIGKILL'), this.limits.ms);
      const look = setInterval(() => {
        if (residentBytes(child.pid) <= mostBytes) return;
        over = true;
        child.kill('SIGKILL');
      }, LOOK_MS);
      const end = (): void => {
        clearTimeout(timer);
        clearInterval(look);
        child.off('message', hear);
        child.off('exit', gone);
      };
      const hear = (answer: Answer): void => {
        end();
        // What large files took is given back with its process only.
        const held = residentBytes(child.pid);
        if (more === FOR_RAW && (held === 0 || held > KEPT_BYTES)) child.kill('SIGKILL');
        else this.rest(decoder);
        if ('done' in answer) resolve(answer.done as Done[O['do']]);
        else if ('fault' in answer) reject(new BexlenError(answer.fault.code, answer.fault.message, answer.fault.hint));
        else reject(new Error(answer.error));
      };
      const gone = (code: number | null): void => {
        end();
        this.forget(decoder);
        reject(over || code === TOO_MUCH ? tooMuch(name) : cannot(name));
      };
      child.on('message', hear);
      child.on('exit', gone);
      child.send({ ...order, mostBytes }, (error) => error && child.kill('SIGKILL'));
    });
  }

  /** A decoder that has nothing to do; a new one where there may be more; else the first that gets free, in the order of urgency. Throws `cancelled` where nobody waits any more. */
  private async free({ urgency = 'later', signal }: Wish): Promise<Decoder> {
    for (;;) {
      if (this.closed) throw new BexlenError('cancelled', 'The server is being stopped.', 'Try again when it is back.');
      if (signal?.aborted) throw new BexlenError('cancelled', 'Nobody waits for this any more.', 'Ask for it again.');
      const idle = this.decoders.find(({ busy }) => !busy) ?? (this.decoders.length < MOST ? this.begin() : undefined);
      if (idle) {
        idle.busy = true;
        clearTimeout(idle.patience);
        return idle;
      }
      await new Promise<void>((go) => {
        const gone = (): void => {
          this.waiting = this.waiting.filter((each) => each !== waiting);
          go();
        };
        const waiting = {
          rank: RANK[urgency],
          go: () => {
            signal?.removeEventListener('abort', gone);
            go();
          },
        };
        this.waiting.push(waiting);
        signal?.addEventListener('abort', gone);
      });
    }
  }

  private begin(): Decoder {
    const args = [this.file, String(process.pid)];
    const hardKilobytes = Math.round((this.limits.bytes + FOR_RAW + HARD_BYTES) / 1000);
    const limited = process.platform === 'linux';
    const options: SpawnOptions = { stdio: ['ignore', 'ignore', 'inherit', 'ipc'], serialization: 'advanced' };
    const child = limited
      ? spawn('/bin/sh', ['-c', `ulimit -d ${hardKilobytes}; ${WITH_PARENT}; exec $with "$0" "$@"`, process.execPath, ...args], options)
      : spawn(process.execPath, args, options);
    const decoder: Decoder = { child, busy: false };
    this.decoders.push(decoder);
    child.once('exit', () => this.forget(decoder));
    return decoder;
  }

  private rest(decoder: Decoder): void {
    decoder.busy = false;
    decoder.patience = setTimeout(() => decoder.child.kill(), PATIENCE_MS).unref();
    this.next();
  }

  private forget(decoder: Decoder): void {
    clearTimeout(decoder.patience);
    const at = this.decoders.indexOf(decoder);
    if (at >= 0) this.decoders.splice(at, 1);
    this.next();
  }

  /** Lets the most urgent go on; of what somebody looks at the newest, of all else the oldest. */
  private next(): void {
    const best = this.waiting.reduce<Waiting | undefined>(
      (first, each) => (!first || each.rank < first.rank || (each.rank === first.rank && each.rank === RANK.seen) ? each : first),
      undefined,
    );
    if (!best) return;
    this.waiting = this.waiting.filter((each) => each !== best);
    best.go();
  }
}

/** What a process holds in memory, as the system says (proc(5), status); 0 where it does not tell. */
function residentBytes(pid: number | undefined): number {
  try {
    const [, kilobytes] = /^VmRSS:\s+(\d+) kB/m.exec(fs.readFileSync(`/proc/${pid ?? 0}/status`, 'utf8')) ?? [];
    return Number(kilobytes ?? 0) * 1024;
  } catch {
    // It is gone, or this is no Linux: the decoder then looks at itself.
    return 0;
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
