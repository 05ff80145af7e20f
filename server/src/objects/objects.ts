import path from 'node:path';
import { BexlenError } from '@bexlen/core';
import { inFolder } from './folder-objects';

/** What is kept for good, or for every process, by name: originals, what they were developed into, small pictures, colour tables and finished files. */
export interface Objects {
  /** Whether it is this process's own, in its data folder. */
  readonly own: boolean;
  /** Bytes of an object; undefined where there is none, or nothing in it. */
  size(key: string): Promise<number | undefined>;
  /** A file of this machine that holds an object, whole, for ten minutes from now at least; undefined where there is none. */
  file(key: string): Promise<string | undefined>;
  /**
   * Moves a finished file to where an object of this name is from then on, in place of whatever had that name.
   * @param hash what its SHA-256 must be. @throws {BexlenError} `no-store` where it cannot be kept, or came to be another on the way.
   */
  keep(key: string, file: string, hash?: string): Promise<void>;
  remove(key: string): Promise<void>;
  /** All below a part of their names, as `originals` or `uploads/one`. */
  list(prefix: string): AsyncIterable<{ readonly key: string; readonly bytes: number }>;
  /** An address under which whoever has it can load an object for a while, as a file of this name; undefined where the server must hand it out itself. */
  link(key: string, as: { readonly name: string; readonly type: string }): Promise<string | undefined>;
}

/**
 * Opens a store.
 * @param where undefined for the data folder itself, another folder that all processes see, or s3://BUCKET?endpoint=URL.
 * @throws {BexlenError} `no-store` with what to do, where it cannot be had.
 */
export async function openObjects(where: string | undefined, data: string): Promise<Objects> {
  if (where === undefined) return inFolder(data, true);
  if (where.startsWith('s3:')) return (await import('./s3')).inBucket(where, path.join(data, 'cache'));
  if (/^\w+:\/\//.test(where) || !path.isAbsolute(where))
    throw new BexlenError('no-store', `${where} is no store.`, 'Give BEXLEN_STORE as s3://BUCKET?endpoint=URL, or as the whole path of a folder.');
  return inFolder(where, false);
}
