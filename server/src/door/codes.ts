import { createHash, randomBytes } from 'node:crypto';
import { BexlenError } from '@bexlen/core';
import type { Db } from '../store/db';

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

/** Codes for pairing: each good once, for five minutes by the clock of the database, in whichever process it is shown. Only their hashes are held. */
export class Codes {
  constructor(private readonly db: Db) {}

  async make(): Promise<Code> {
    const code = inGroups(randomBytes(16));
    await this.db.transaction(async (tx) => {
      await tx.query("DELETE FROM pairing_codes WHERE until < now() - interval '1 day'");
      await tx.query(
        'DELETE FROM pairing_codes WHERE NOT spent AND hash NOT IN (SELECT hash FROM pairing_codes WHERE NOT spent ORDER BY until DESC LIMIT $1)',
        [MOST - 1],
      );
      await tx.query('INSERT INTO pairing_codes (hash, until) VALUES ($1, clock_timestamp() + make_interval(secs => $2))', [
        hashOf(code),
        CODE_MS / 1000,
      ]);
    });
    return { code, goodFor: CODE_MS };
  }

  /** Uses a code up. @throws {BexlenError} `wrong-code` with the reason where it is not good. */
  async take(text: string): Promise<void> {
    const { rows } = await this.db.query<{ good: boolean }>(
      'UPDATE pairing_codes SET spent = true WHERE hash = $1 AND NOT spent RETURNING until > now() AS good',
      [hashOf(text)],
    );
    if (rows[0]?.good) return;
    if (rows[0]) throw wrong('This code is older than five minutes.');
    const known = await this.db.query('SELECT 1 FROM pairing_codes WHERE hash = $1', [hashOf(text)]);
    throw known.rows.length > 0 ? wrong('This code was used already.') : wrong('This code is not known here.');
  }

  /** None is good any more. */
  async forget(): Promise<void> {
    await this.db.query('UPDATE pairing_codes SET spent = true');
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
