import { createHash, randomBytes } from 'node:crypto';
import { performance } from 'node:perf_hooks';
import { BexlenError } from '@bexlen/core';

/** How long a code is good. */
export const CODE_MS = 5 * 60_000;
/** Codes that are good at the same time; the oldest goes. */
const MOST = 4;
/** Thirty-two digits of which none is taken for another. */
const DIGITS = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';

export interface Code {
  /** 128 bits, in groups of digits. */
  readonly code: string;
  /** Milliseconds that it is still good. */
  readonly goodFor: number;
}

/** Codes for pairing: each good once, for five minutes by a clock that nobody sets. Only their hashes are held. */
export class Codes {
  private readonly until = new Map<string, number>();
  private readonly spent = new Set<string>();

  constructor(private readonly now: () => number = () => performance.now()) {}

  make(): Code {
    const code = inGroups(randomBytes(16));
    while (this.until.size >= MOST) this.until.delete([...this.until.keys()][0] as string);
    this.until.set(hashOf(code), this.now() + CODE_MS);
    return { code, goodFor: CODE_MS };
  }

  /** Uses a code up. Throws `wrong-code` with the reason where it is not good. */
  take(text: string): void {
    const hash = hashOf(text);
    const until = this.until.get(hash);
    if (until === undefined) throw this.spent.has(hash) ? wrong('This code was used already.') : wrong('This code is not known here.');
    this.until.delete(hash);
    this.spent.add(hash);
    if (until < this.now()) throw wrong('This code is older than five minutes.');
  }
}

const wrong = (message: string): BexlenError =>
  new BexlenError('wrong-code', message, 'Open Phone in Bexlen on the machine that it runs on, and scan the code there.');

/** Compared by hash, so that how long it takes tells nothing. */
const hashOf = (text: string): string =>
  createHash('sha256')
    .update(text.toUpperCase().replace(/[^A-Z0-9]/g, ''))
    .digest('hex');

function inGroups(bytes: Buffer): string {
  let left = BigInt(`0x${bytes.toString('hex')}`);
  let digits = '';
  for (let i = 0; i < 26; i++, left >>= 5n) digits = DIGITS.charAt(Number(left & 31n)) + digits;
  return digits.match(/.{1,5}/g)?.join('-') ?? digits;
}
