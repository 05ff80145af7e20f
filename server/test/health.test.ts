import { asking, order } from './asking';
import { jpeg, serverForAll, upload } from './server';
import type { Photo } from '@bexlen/api';

const server = serverForAll(64e6);
const read = async (path: string): Promise<{ status: number; text: string }> => {
  const answer = await fetch(`${server.address}${path}`);
  return { status: answer.status, text: await answer.text() };
};

it('says that it lives and is ready, and counts what became of jobs and what they came to', async () => {
  expect((await read('/healthz')).status).toBe(200);
  expect((await read('/readyz')).status).toBe(200);
  expect((await read('/metrics')).text).toMatch(/^bexlen_jobs\{state="done"\} 0$/m);
  const { ask, finished } = asking(() => server.address);
  const { photo } = (await upload(server.address, await jpeg(), 'photo.jpg')).body as unknown as { photo: Photo };
  const { bytes } = await finished((await order(ask, { versionId: photo.versions[0]?.id, format: 'jpeg' })).body);
  // A file is there a little before it is counted.
  let text = '';
  for (let i = 0; i < 40 && !text.includes('bexlen_job_seconds_count 1'); i++) {
    text = (await read('/metrics')).text;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  for (const line of [
    'bexlen_jobs{state="done"} 1',
    'bexlen_jobs_ended_total{state="done"} 1',
    `bexlen_job_bytes_total ${bytes.length}`,
    'bexlen_job_seconds_count 1',
  ])
    expect(text.split('\n')).toContain(line);
});

it('takes what a page says of its faults, short and whole', async () => {
  const { ask } = asking(() => server.address);
  const fault = { message: 'there is no canvas', stack: 'at toFrame', page: '/bench/1' };
  expect(
    (await fetch(`${server.address}/api/faults`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(fault) }))
      .status,
  ).toBe(204);
  expect(server.log()).toContain('there is no canvas');
  expect((await ask('POST', '/faults', { ...fault, stack: 'x'.repeat(5000) })).status).toBe(400);
  expect((await ask('GET', '/faults')).status).toBe(405);
});
