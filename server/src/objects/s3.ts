import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import fs from 'node:fs/promises';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { setTimeout as rest } from 'node:timers/promises';
import {
  AbortMultipartUploadCommand,
  DeleteObjectCommand,
  GetObjectCommand,
  HeadObjectCommand,
  ListMultipartUploadsCommand,
  ListObjectsV2Command,
  PutObjectCommand,
  S3Client,
  type ListMultipartUploadsCommandOutput,
  type S3ClientConfig,
} from '@aws-sdk/client-s3';
import { Upload } from '@aws-sdk/lib-storage';
import { getSignedUrl } from '@aws-sdk/s3-request-presigner';
import { BexlenError } from '@bexlen/core';
import { Shared } from '../jobs/shared';
import { Cache } from './cache';
import type { Objects } from './objects';

/** How long the store may take to be reached, and to say something. */
const REACHED_MS = 5000;
const SILENT_MS = 20_000;
/** A request that failed is made so often in all; a file that was cut off is fetched so often. */
const TIMES = 4;
const FETCHES = 4;
const REST_MS = 150;
const LINK_SECONDS = 600;
/** Sizes that are remembered. */
const KNOWN = 200_000;
/** Room for what was fetched, unless the address says otherwise. */
const CACHE_GB = 8;

/** What an address says of a bucket. */
interface Address {
  readonly bucket: string;
  readonly endpoint: string | undefined;
  /** Where phones and laptops reach the same store; without it the server hands files out itself. */
  readonly links: string | undefined;
  readonly region: string;
  readonly cacheBytes: number;
}

/** @throws {BexlenError} `no-store` where it is no address of a bucket. */
function readAddress(text: string): Address {
  const url = URL.canParse(text) ? new URL(text) : undefined;
  const { endpoint, links, region = 'us-east-1', cache = String(CACHE_GB), ...others } = Object.fromEntries(url?.searchParams ?? []);
  const [other] = Object.keys(others);
  const wrong = [endpoint, links].find((each) => each !== undefined && !URL.canParse(each));
  const says =
    !url?.hostname || wrong !== undefined || !(Number(cache) > 0)
      ? `${text} is no address of a bucket.`
      : other !== undefined
        ? `“${other}” is not known in the address of a store.`
        : undefined;
  if (says !== undefined)
    throw new BexlenError('no-store', says, 'Give BEXLEN_STORE as s3://BUCKET?endpoint=URL, with &region=, &links=URL and &cache=GB where needed.');
  return { bucket: (url as URL).hostname, endpoint, links, region, cacheBytes: Number(cache) * 1e9 };
}

/** How a store is spoken to. Who may is told by AWS_ACCESS_KEY_ID and AWS_SECRET_ACCESS_KEY, or as the machine has it. */
const configOf = ({ region, ...address }: Address, endpoint = address.endpoint): S3ClientConfig => ({
  region,
  ...(endpoint !== undefined && { endpoint, forcePathStyle: true }),
  maxAttempts: TIMES,
  requestChecksumCalculation: 'WHEN_REQUIRED',
  responseChecksumValidation: 'WHEN_REQUIRED',
  requestHandler: { connectionTimeout: REACHED_MS, requestTimeout: SILENT_MS, socketTimeout: SILENT_MS },
});

async function* listed(client: S3Client, Bucket: string, Prefix: string): AsyncGenerator<{ key: string; bytes: number }> {
  let after: string | undefined;
  do {
    const page = await client
      .send(new ListObjectsV2Command({ Bucket, Prefix, ...(after !== undefined && { ContinuationToken: after }) }))
      .catch((error: unknown) => Promise.reject(refusal(error)));
    for (const { Key = '', Size = 0 } of page.Contents ?? []) yield { key: Key, bytes: Size };
    after = page.IsTruncated ? page.NextContinuationToken : undefined;
  } while (after !== undefined);
}

/** No file is on its way for longer: what was begun before is of a machine that is gone. */
const UNFINISHED_MS = 24 * 3600 * 1000;
const SWEEP_MS = 6 * 3600 * 1000;

/** Gives up what was sent in parts, begun over a day ago and never finished: it takes room that no list of objects shows. A store that does not tell of such things is left alone. */
async function dropUnfinished(client: S3Client, Bucket: string): Promise<void> {
  let after: { KeyMarker?: string; UploadIdMarker?: string } | undefined = {};
  while (after) {
    const page: ListMultipartUploadsCommandOutput = await client.send(new ListMultipartUploadsCommand({ Bucket, ...after }));
    for (const { Key, UploadId, Initiated } of page.Uploads ?? [])
      if (Initiated && Date.now() - Initiated.getTime() > UNFINISHED_MS)
        await client.send(new AbortMultipartUploadCommand({ Bucket, Key, UploadId }));
    const { IsTruncated, NextKeyMarker, NextUploadIdMarker } = page;
    after =
      IsTruncated && NextKeyMarker ? { KeyMarker: NextKeyMarker, ...(NextUploadIdMarker && { UploadIdMarker: NextUploadIdMarker }) } : undefined;
  }
}

/** Objects in a bucket of an object store that speaks S3, with what was fetched lately on this machine. */
export async function inBucket(where: string, folder: string): Promise<Objects> {
  const address = readAddress(where);
  // That its maker will ask for a newer Node.js one day is nothing to whoever starts this.
  process.env['AWS_SDK_JS_NODE_VERSION_SUPPORT_WARNING_DISABLED'] = 'true';
  const { bucket: Bucket, links } = address;
  const client = new S3Client(configOf(address));
  const outside = links === undefined ? undefined : new S3Client(configOf(address, links));
  const cache = await Cache.open(folder, address.cacheBytes);
  const fetching = new Shared<string | undefined>();
  const sizes = new Map<string, number>();
  const know = (key: string, bytes: number): number => {
    if (sizes.size >= KNOWN) sizes.clear();
    sizes.set(key, bytes);
    return bytes;
  };
  await prove(client, Bucket);
  const sweep = (): void => void dropUnfinished(client, Bucket).catch(() => undefined);
  sweep();
  setInterval(sweep, SWEEP_MS).unref();

  const size = async (key: string): Promise<number | undefined> => {
    const known = sizes.get(key);
    if (known !== undefined) return known;
    const head = await client.send(new HeadObjectCommand({ Bucket, Key: key })).catch(orNone);
    return head?.ContentLength ? know(key, head.ContentLength) : undefined;
  };

  /** Loads an object into the cache, whole, and where its name tells its content, that. */
  const fetched = async (key: string): Promise<string | undefined> => {
    for (let time = 1; ; time++) {
      const got = await client.send(new GetObjectCommand({ Bucket, Key: key })).catch(orNone);
      if (!got?.Body || !got.ContentLength) return undefined;
      const bytes = got.ContentLength;
      try {
        return await cache.take(key, bytes, (to) => written(got.Body as Readable, to, bytes, /(?:^|\/)([0-9a-f]{64})$/.exec(key)?.[1]));
      } catch (error) {
        // The cache has made room meanwhile.
        if (isOfDisk(error) && time > 1) throw error;
        if (time === FETCHES) throw refusal(error);
        await rest(REST_MS * 2 ** time);
      }
    }
  };

  return {
    own: false,
    size,
    file: async (key) => (await cache.has(key)) ?? fetching.ask(key, undefined, () => fetched(key)),
    keep: async (key, file, hash) => {
      const { size: bytes } = await fs.stat(file);
      const sum = createHash('sha256');
      const Body = createReadStream(file, { highWaterMark: 1 << 20 }).pipe(
        new Transform({
          transform: (part: Buffer, _encoding, go) => {
            sum.update(part);
            go(null, part);
          },
        }),
      );
      await new Upload({ client, params: { Bucket, Key: key, Body } }).done().catch((error: unknown) => Promise.reject(refusal(error)));
      const kept = await client.send(new HeadObjectCommand({ Bucket, Key: key })).catch((error: unknown) => Promise.reject(refusal(error)));
      if (kept.ContentLength !== bytes || (hash !== undefined && sum.digest('hex') !== hash)) {
        await client.send(new DeleteObjectCommand({ Bucket, Key: key })).catch(() => undefined);
        throw refusal(new Error('what it keeps is not what was sent'));
      }
      if (bytes === 0) return void (await fs.rm(file));
      know(key, bytes);
      await cache.keep(key, file);
    },
    remove: async (key) => {
      sizes.delete(key);
      await cache.remove(key);
      await client.send(new DeleteObjectCommand({ Bucket, Key: key })).catch((error: unknown) => Promise.reject(refusal(error)));
    },
    list: (prefix) => listed(client, Bucket, `${prefix}/`),
    link: async (key, { name, type }) =>
      outside &&
      getSignedUrl(
        outside,
        new GetObjectCommand({
          Bucket,
          Key: key,
          ResponseContentType: type,
          ResponseContentDisposition: `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
        }),
        { expiresIn: LINK_SECONDS },
      ),
  };
}

/** Writes what comes to a file. @throws {Error} where it is not so many bytes, or not what its name says. */
async function written(body: Readable, to: string, bytes: number, hash: string | undefined): Promise<void> {
  const sum = createHash('sha256');
  let came = 0;
  await pipeline(
    body,
    new Transform({
      transform: (part: Buffer, _encoding, go) => {
        sum.update(part);
        came += part.length;
        go(null, part);
      },
    }),
    createWriteStream(to, { mode: 0o600 }),
  );
  if (came !== bytes) throw new Error(`it was cut off after ${came} of ${bytes} bytes`);
  if (hash !== undefined && sum.digest('hex') !== hash) throw new Error('its content is not what was kept');
}

/** Finds out at the start whether the bucket can be read and written. */
async function prove(client: S3Client, Bucket: string): Promise<void> {
  const Key = `proof/${randomUUID()}`;
  try {
    await client.send(new PutObjectCommand({ Bucket, Key, Body: 'written' }));
    await client.send(new DeleteObjectCommand({ Bucket, Key }));
  } catch (error) {
    throw refusal(error, Bucket);
  }
}

const nameOf = (error: unknown): string => (error as { name?: string; Code?: string }).Code ?? (error as Error).name;
const statusOf = (error: unknown): number | undefined => (error as { $metadata?: { httpStatusCode?: number } }).$metadata?.httpStatusCode;
const isOfDisk = (error: unknown): boolean => ['ENOSPC', 'EDQUOT', 'EROFS', 'EACCES'].includes((error as { code?: string }).code ?? '');

/** Nothing, where there is no such object. */
function orNone(error: unknown): undefined {
  if (['NoSuchKey', 'NotFound'].includes(nameOf(error))) return undefined;
  throw refusal(error);
}

/** Why a store does not do what it is asked for, and what to do. */
function refusal(error: unknown, bucket = 'of BEXLEN_STORE'): BexlenError {
  if (error instanceof BexlenError || isOfDisk(error)) return error as BexlenError;
  const [name, status] = [nameOf(error), statusOf(error)];
  if (name === 'NoSuchBucket' || (status === 404 && name !== 'NoSuchUpload'))
    return new BexlenError('no-store', `The store has no bucket ${bucket}.`, 'Make it, or give another in BEXLEN_STORE.');
  if (['InvalidAccessKeyId', 'SignatureDoesNotMatch', 'CredentialsProviderError'].includes(name))
    return new BexlenError('no-store', 'The store does not let Bexlen in.', 'Look at AWS_ACCESS_KEY_ID and AWS_SECRET_ACCESS_KEY.');
  if (name === 'RequestTimeTooSkewed')
    return new BexlenError('no-store', 'The clock of this machine is not that of the store.', 'Set its time, then try again.');
  if (name === 'QuotaExceeded') return new BexlenError('no-store', 'The store is full.', 'Make room in the bucket, or have its quota raised.');
  if (status === 403)
    return new BexlenError('no-store', `The bucket ${bucket} may not be written to.`, 'Let this key read, write, list and delete in it.');
  return new BexlenError(
    'no-store',
    `The store does not answer as it should: ${(error as Error).message || name}.`,
    'Look whether it runs, and at the endpoint in BEXLEN_STORE.',
  );
}
