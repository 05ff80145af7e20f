/** Every fault that a person may be told of. Codes are for programs, the sentence and the hint for people. */
export type FaultCode =
  | 'bad-request'
  | 'not-found'
  | 'method'
  | 'conflict'
  | 'wrong-host'
  | 'foreign-origin'
  | 'not-paired'
  | 'wrong-code'
  | 'too-many-tries'
  | 'too-large'
  | 'bad-range'
  | 'changed'
  | 'bad-encoding'
  | 'no-picture'
  | 'unsupported-format'
  | 'damaged-picture'
  | 'damaged-file'
  | 'too-many-pixels'
  | 'bad-version'
  | 'disk-full'
  | 'folder-in-use'
  | 'no-database'
  | 'no-store'
  | 'memory'
  | 'too-slow'
  | 'cancelled'
  | 'internal';

/** A fault with a sentence that says what and why, and a hint that says what to do. */
export class BexlenError extends Error {
  constructor(
    readonly code: FaultCode,
    message: string,
    readonly hint: string,
  ) {
    super(message);
    this.name = 'BexlenError';
  }
}
