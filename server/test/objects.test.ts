import { createHash, randomBytes } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs/promises';
import path from 'node:path';
import { Cache } from '../src/objects/cache';
import { openObjects, type Objects } from '../src/objects/objects';
import { Bucket } from './bucket';
import { newFolder } from './server';

let bucket: Bucket;
let folder: string;
beforeAll(async () => {
  bucket = await Bucket.begin();
  Object.assign(process.env, bucket.env);
  folder = await newFolder();
});
afterAll(async () => {
  await bucket.end();
  await fs.rm(folder, { recursive: true });
});
beforeEach(() => {
  bucket.mood = 'well';
});

let count = 0;
const newFile = async (bytes: Buffer): Promise<string> => {
  const file = path.join(folder, `file-${++count}`);
  await fs.writeFile(file, bytes);
  return file;
};
/** A store as another machine has it: nothing of it is there yet. */
const places = {
  'a folder': (data: string) => openObjects(path.join(folder, 'shared'), data),
  'an object store': (data: string) => openObjects(bucket.address(), data),
};
const opened = (place: keyof typeof places): Promise<Objects> => places[place](path.join(folder, `data-${++count}`));
const originalOf = (bytes: Buffer): { key: string; hash: string } => {
  const hash = createHash('sha256').update(bytes).digest('hex');
  return { key: `originals/${hash.slice(0, 2)}/${hash}`, hash };
};

describe.each(Object.keys(places) as (keyof typeof places)[])('objects in %s', (place) => {
  it('are found by every machine, whole, until they are removed', async () => {
    const [here, there] = [await opened(place), await opened(place)];
    // Of several parts on their way.
    const bytes = randomBytes(11_000_000);
    const { key, hash } = originalOf(bytes);
    expect([await there.size(key), await there.file(key)]).toEqual([undefined, undefined]);
    const file = await newFile(bytes);
    await here.keep(key, file, hash);
    await expect(fs.stat(file)).rejects.toThrow();
    expect(await there.size(key)).toBe(bytes.length);
    for (const objects of [here, there]) expect((await fs.readFile((await objects.file(key)) as string)).equals(bytes)).toBe(true);
    await here.keep('exports/small.txt', await newFile(Buffer.from('one')));
    const listed = [];
    for await (const each of there.list('exports')) listed.push(each);
    expect(listed).toEqual([{ key: 'exports/small.txt', bytes: 3 }]);
    await here.remove('exports/small.txt');
    await here.remove('exports/small.txt');
    expect(await (await opened(place)).size('exports/small.txt')).toBeUndefined();
  });

  it('that hold nothing are not there', async () => {
    const objects = await opened(place);
    await objects.keep('exports/empty', await newFile(Buffer.alloc(0)));
    expect([await objects.size('exports/empty'), await objects.file('exports/empty')]).toEqual([undefined, undefined]);
  });
});

describe('an object store', () => {
  const kept = async (bytes = randomBytes(300_000)): Promise<{ key: string; bytes: Buffer }> => {
    const { key, hash } = originalOf(bytes);
    await (await opened('an object store')).keep(key, await newFile(bytes), hash);
    return { key, bytes };
  };

  it('is asked once for what many want at the same time, and not again for what was fetched', async () => {
    const { key, bytes } = await kept();
    const objects = await opened('an object store');
    bucket.asked = [];
    const files = await Promise.all(Array.from({ length: 8 }, () => objects.file(key)));
    expect(new Set(files).size).toBe(1);
    expect((await fs.readFile((await objects.file(key)) as string)).equals(bytes)).toBe(true);
    expect(bucket.asked.filter((line) => line.startsWith('GET'))).toHaveLength(1);
  });

  it('that is busy for a moment, slow, or breaks off in the middle is asked again, and what comes is whole', async () => {
    const { key, bytes } = await kept();
    for (const mood of ['busy', 'cut', 'slow'] as const) {
      const objects = await opened('an object store');
      bucket.mood = mood;
      setTimeout(() => (bucket.mood = 'well'), 120);
      expect((await fs.readFile((await objects.file(key)) as string)).equals(bytes)).toBe(true);
    }
    const objects = await opened('an object store');
    bucket.mood = 'cut';
    await expect(objects.file(key)).rejects.toMatchObject({ code: 'no-store' });
    bucket.mood = 'busy';
    await expect(objects.keep('exports/late', await newFile(bytes))).rejects.toMatchObject({ code: 'no-store' });
  });

  it('does not give out as an original what is not the one that was kept', async () => {
    const { key } = await kept();
    const hash = path.basename(key);
    const other = await opened('an object store');
    await other.keep(key, await newFile(randomBytes(300_000)));
    await expect((await opened('an object store')).file(key)).rejects.toThrow('its content is not what was kept');
    await expect(other.keep(key, await newFile(randomBytes(1000)), hash)).rejects.toMatchObject({ code: 'no-store' });
    expect(await (await opened('an object store')).size(key)).toBeUndefined();
  });

  it('gives up what a machine that is gone began to send a day ago, and nothing younger', async () => {
    const begun = (hours: number): Date => new Date(Date.now() - hours * 3_600_000);
    bucket.unfinished.set('old', begun(30)).set('young', begun(20));
    await opened('an object store');
    while (bucket.unfinished.has('old')) await new Promise((resolve) => setTimeout(resolve, 20));
    expect([...bucket.unfinished.keys()]).toEqual(['young']);
    bucket.unfinished.clear();
  });

  it('gives out links under the address where others reach it, and none without one', async () => {
    const { key, bytes } = await kept();
    const as = { name: 'Dünen 1.jpg', type: 'image/jpeg' };
    expect(await (await opened('an object store')).link(key, as)).toBeUndefined();
    const endpoint = /endpoint=(.*)/.exec(bucket.address())?.[1];
    const objects = await openObjects(bucket.address('studio', `&links=${endpoint}`), path.join(folder, `data-${++count}`));
    const answer = await fetch((await objects.link(key, as)) as string);
    expect(answer.headers.get('content-disposition')).toBe(`attachment; filename*=UTF-8''D%C3%BCnen%201.jpg`);
    expect(Buffer.from(await answer.arrayBuffer()).equals(bytes)).toBe(true);
  });

  it.each([
    ['no address', 's3:', 'no address of a bucket'],
    ['a word that is not known', 's3://studio?endpiont=x', '“endpiont” is not known'],
    ['another scheme', 'ftp://studio', 'is no store'],
    ['a folder without its whole path', 'somewhere', 'is no store'],
    ['nobody there', 's3://studio?endpoint=http://127.0.0.1:9', 'does not answer'],
    ['a folder that cannot be made', '/dev/null/nowhere', 'cannot be written to'],
  ])('is refused with what to do: %s', async (_, where, says) => {
    const error = await openObjects(where, path.join(folder, 'none')).catch((fault: unknown) => fault);
    expect(error).toMatchObject({ code: 'no-store', message: expect.stringContaining(says) as string });
    expect((error as { hint: string }).hint).toMatch(/BEXLEN_STORE/);
  });

  it('is refused where the bucket is missing, may not be written to, or lets nobody in', async () => {
    const tried = (name = 'studio') => openObjects(bucket.address(name), path.join(folder, 'none'));
    await expect(tried('nowhere')).rejects.toThrow('The store has no bucket nowhere.');
    bucket.mood = 'read-only';
    await expect(tried()).rejects.toThrow('The bucket studio may not be written to.');
    bucket.mood = 'refuses';
    await expect(tried()).rejects.toThrow('The store does not let Bexlen in.');
    bucket.mood = 'skewed';
    await expect(tried()).rejects.toThrow('The clock of this machine is not that of the store.');
    bucket.mood = 'full';
    await expect(tried()).rejects.toThrow('The store is full.');
  });
});

describe('what was fetched', () => {
  const write = (bytes: number) => (to: string) => fs.writeFile(to, Buffer.alloc(bytes));

  it('makes room by what was asked for the longest ago, but not by what is in use', async () => {
    const at = path.join(folder, `cache-${++count}`);
    const before = await Cache.open(at, 10_000);
    for (const name of ['a/1', 'a/2', 'a/3']) await before.take(name, 3000, write(3000));
    // All are in use still: it grows beyond its room sooner than it takes a file away from whoever reads it.
    await before.take('a/4', 3000, write(3000));
    expect((await Promise.all(['a/1', 'a/2', 'a/3', 'a/4'].map((name) => before.has(name)))).every((file) => file !== undefined)).toBe(true);
    // Of those that an earlier process has left, nobody reads any more.
    const cache = await Cache.open(at, 10_000);
    await cache.take('a/5', 3000, write(3000));
    expect((await fs.readdir(path.join(at, 'a'))).length).toBe(3);
    expect(await cache.has('a/5')).toBeDefined();
    // What somebody else has taken away, or cut, is not here.
    await fs.truncate(path.join(at, 'a/5'), 10);
    expect(await cache.has('a/5')).toBeUndefined();
    expect(await fs.readdir(path.join(at, 'a'))).not.toContain('5');
  });

  it('on a full disk is refused, leaves nothing half, and is taken when there is room', async () => {
    const disk = await newFolder();
    try {
      execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=2m', 'tmpfs', disk], { stdio: 'ignore' });
    } catch {
      return console.warn('no file system could be mounted here; a full disk was not tried');
    }
    try {
      const cache = await Cache.open(path.join(disk, 'cache'), 1e9);
      await fs.writeFile(path.join(disk, 'filler'), Buffer.alloc(1_500_000));
      await expect(cache.take('a/1', 1e6, write(1e6))).rejects.toMatchObject({ code: 'ENOSPC' });
      expect(await fs.readdir(path.join(disk, 'cache/a'))).toEqual([]);
      await fs.rm(path.join(disk, 'filler'));
      expect(await cache.take('a/1', 1e6, write(1e6))).toBe(await cache.has('a/1'));
    } finally {
      execFileSync('umount', ['-l', disk]);
      await fs.rm(disk, { recursive: true });
    }
  });
});
