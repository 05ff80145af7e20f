import express from 'express';
import { Piscina } from 'piscina';
import { BexlenError, type Cube, type FaultCode, type Look, type LookFault } from '@bexlen/core';
import { bodies, parsed, type BodyName } from './bodies';
import type { Task, Told } from './check-thread';

/** Longer texts are checked in a thread of their own, so that nobody waits for it. */
const SHORT = 64_000;
const MOST = '16mb';
const THREAD_MB = 512;

/** Checks of what comes from outside. */
export class Checks {
  private readonly threads: Piscina<Task, Told>;

  /** @param file the built program of a thread. */
  constructor(file: string) {
    this.threads = new Piscina({
      filename: file,
      minThreads: 0,
      maxThreads: 1,
      idleTimeout: 10_000,
      resourceLimits: { maxOldGenerationSizeMb: THREAD_MB },
    });
  }

  /** Reads a body of JSON and puts what was checked in its place. */
  body(name: BodyName): ReturnType<typeof express.json> {
    const read = express.raw({ type: 'application/json', limit: MOST });
    return (req, res, next) =>
      read(req, res, (error?: unknown) => {
        if (error) return next(error);
        const withBody = req as typeof req & { body: unknown };
        this.checked(name, req.headers['content-type'], withBody.body).then((body) => {
          withBody.body = body;
          next();
        }, next);
      });
  }

  private async checked(name: BodyName, type: string | undefined, body: unknown): Promise<unknown> {
    if (!utf8(type)) throw new BexlenError('bad-encoding', 'The request is not written in UTF-8.', 'Send it as UTF-8.');
    const text = Buffer.isBuffer(body) ? body.toString() : '';
    return text.length > SHORT ? this.run({ check: name, text }) : bodies[name](parsed(text));
  }

  /** The colour table of a .cube file. Throws where it is broken. */
  async cube(text: string): Promise<Cube> {
    return (await this.run({ check: 'cube', text })) as Cube;
  }

  /** The looks of a file, or all that is wrong with them. */
  async looks(bytes: Uint8Array): Promise<{ looks: Look[]; faults: LookFault[] }> {
    return (await this.run({ check: 'looks', bytes })) as { looks: Look[]; faults: LookFault[] };
  }

  close(): Promise<void> {
    return this.threads.destroy();
  }

  private async run(task: Task): Promise<unknown> {
    const told = await this.threads.run(task).catch((error: unknown) => {
      if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new BexlenError('too-large', 'This takes more memory to read than there is.', 'Make it smaller and send it again.');
      throw error;
    });
    if ('fault' in told) throw new BexlenError(told.fault.code as FaultCode, told.fault.message, told.fault.hint);
    return told.value;
  }
}

const utf8 = (type = ''): boolean => /^[^;]*(;\s*charset="?utf-?8"?\s*)?$/i.test(type);
