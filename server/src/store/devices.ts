import { createHash, randomBytes, randomUUID } from 'node:crypto';
import type { Request } from 'express';
import { BexlenError } from '@bexlen/core';
import { device, type Device } from '@bexlen/api';
import type { Db } from './db';

/** A visit is noted again after so long. */
const NOTE_MS = 60_000;

/** Phones and other machines that were let in. Each shows a secret that only its cookie has; one that is sent away is cut off at once, in the middle of whatever it asks for. */
export class Devices {
  private readonly noted = new Map<string, number>();
  private readonly asking = new Map<string, Set<Request>>();
  private readonly leaving: ((id: string) => Promise<void>)[] = [];

  /** @param changed told when one came, left, or has another name. */
  constructor(
    private readonly db: Db,
    private readonly changed: () => void = () => undefined,
  ) {}

  /** Those that were let in, the one seen last first. */
  async all(): Promise<Device[]> {
    const { rows } = await this.db.query<unknown>(`${COLUMNS} FROM devices ORDER BY seen_at DESC`);
    return rows.map((row) => device.parse(row));
  }

  /** Lets a device in. Returns the secret that it is to show from now on. */
  async add(name: string): Promise<{ device: Device; secret: string }> {
    const secret = randomBytes(32).toString('base64url');
    const { rows } = await this.db.query<unknown>(
      'INSERT INTO devices (id, name, secret_hash) VALUES ($1, $2, $3) RETURNING id, name, paired_at AS "pairedAt", seen_at AS "seenAt"',
      [randomUUID(), name, hashOf(secret)],
    );
    this.changed();
    return { device: device.parse(rows[0]), secret };
  }

  /** The device that shows a secret, if it is let in. */
  async by(secret: string): Promise<Device | undefined> {
    const { rows } = await this.db.query<unknown>(`${COLUMNS} FROM devices WHERE secret_hash = $1`, [hashOf(secret)]);
    return rows[0] === undefined ? undefined : device.parse(rows[0]);
  }

  async rename(id: string, name: string): Promise<void> {
    const { rows } = await this.db.query('UPDATE devices SET name = $2 WHERE id = $1 RETURNING id', [id, name]);
    if (rows.length === 0) throw gone();
    this.changed();
  }

  /** Sends a device away: what it is asking for breaks off, what it was sending is thrown away. */
  async remove(id: string): Promise<void> {
    const { rows } = await this.db.query('DELETE FROM devices WHERE id = $1 RETURNING id', [id]);
    if (rows.length === 0) throw gone();
    this.cutOff(id);
    await Promise.all(this.leaving.map((leave) => leave(id)));
    this.changed();
  }

  /** Breaks off what a device asks for: it was sent away. */
  cutOff(id: string): void {
    for (const request of this.asking.get(id) ?? []) request.socket.destroy();
  }

  /** Calls when a device was sent away. */
  onLeave(leave: (id: string) => Promise<void>): void {
    this.leaving.push(leave);
  }

  /** Holds what a device asks for, until it is answered, and notes its visit. */
  async asks(id: string, request: Request): Promise<void> {
    const all = this.asking.get(id) ?? new Set();
    this.asking.set(id, all.add(request));
    request.res?.once('close', () => all.delete(request));
    if (Date.now() - (this.noted.get(id) ?? 0) < NOTE_MS) return;
    this.noted.set(id, Date.now());
    await this.db.query('UPDATE devices SET seen_at = now() WHERE id = $1', [id]);
  }
}

const COLUMNS = 'SELECT id, name, paired_at AS "pairedAt", seen_at AS "seenAt"';
const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');
const gone = (): BexlenError => new BexlenError('not-found', 'This device is not paired any more.', 'Look at the list of devices again.');
