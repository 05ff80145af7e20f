import { execFileSync } from 'node:child_process';
import fs from 'node:fs/promises';
import path from 'node:path';
import type { ExportJob, Photo } from '@bexlen/api';
import { filesIn, jpeg, newFolder, soon, startServer, upload } from './server';

/** A small file system of its own, where this machine lets us have one. */
async function smallDisk(): Promise<string | undefined> {
  const folder = await newFolder();
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=72m', 'tmpfs', folder], { stdio: 'ignore' });
    return folder;
  } catch {
    await fs.rm(folder, { recursive: true });
    return undefined;
  }
}

/** Fills the disk but for so many bytes. */
async function fill(folder: string, left = 40_000): Promise<string> {
  const file = path.join(folder, 'filler');
  const { bavail, bsize } = await fs.statfs(folder);
  await fs.writeFile(file, Buffer.alloc(Math.max(0, bavail * bsize - left)));
  return file;
}

it('a full disk refuses imports and exports with a sentence, and leaves no half file', async () => {
  const folder = await smallDisk();
  if (!folder) return console.warn('no file system could be mounted here; a full disk was not tried');
  const server = await startServer(folder);
  try {
    const { body } = await upload(server.address, await jpeg(900, 700), 'kept.jpg');
    const photo = body['photo'] as unknown as Photo;
    const filler = await fill(folder);
    const before = await filesIn(folder);
    const refused = await upload(server.address, await jpeg(901, 700), 'refused.jpg');
    expect(refused).toMatchObject({ status: 507, body: { code: 'disk-full' } });
    // What has arrived of it waits in its place until it is sent on or given up.
    const arrived = (file: string): boolean => file.includes(`${path.sep}uploads${path.sep}`);
    // What came of it may be on its way there still when the sender is told.
    await soon(async () => expect((await filesIn(folder)).filter((file) => !arrived(file))).toEqual(before));
    const tus = { 'Tus-Resumable': '1.0.0' };
    const begun = await fetch(`${server.address}/api/uploads`, { method: 'POST', headers: { ...tus, 'Upload-Length': '3000000' } });
    if (begun.status === 201) {
      const headers = { ...tus, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' };
      const sent = await fetch(`${server.address}${begun.headers.get('location')}`, { method: 'PATCH', headers, body: new Uint8Array(3e6) });
      expect([sent.status, ((await sent.json()) as { code: string }).code]).toEqual([507, 'disk-full']);
      await fetch(`${server.address}${begun.headers.get('location')}`, { method: 'DELETE', headers: tus });
    } else expect(begun.status).toBe(507);

    await fs.rm(filler);
    // Room for an order, but not for the file.
    const room = await fill(folder, 1_000_000);
    const ordered = { versionIds: [photo.versions[0]?.id], wish: { format: 'png', depth: 16 } };
    const post = (where: string, what?: unknown) =>
      fetch(`${server.address}/api${where}`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(what ?? {}) });
    const { id } = ((await (await post('/exports', ordered)).json()) as { exports: [ExportJob] }).exports[0];
    const settled = async (): Promise<ExportJob | undefined> => {
      for (let i = 0; i < 200; i++) {
        const { exports } = (await (await fetch(`${server.address}/api/exports`)).json()) as { exports: ExportJob[] };
        const job = exports.find((it) => it.id === id);
        if (job && !['waiting', 'working'].includes(job.state)) return job;
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      return undefined;
    };
    expect(await settled()).toMatchObject({ state: 'failed', fault: { code: 'disk-full' } });
    expect((await filesIn(folder)).filter((file) => /unfinished|exports/.test(file))).toEqual([]);

    await fs.rm(room);
    await post(`/exports/${id}/again`);
    expect(await settled()).toMatchObject({ state: 'done' });
  } finally {
    await server.close();
    execFileSync('umount', ['-l', folder]);
    await fs.rm(folder, { recursive: true });
  }
}, 60000);
