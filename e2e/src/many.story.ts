import type { ExportJob } from '@bexlen/api';
import { Bucket } from '../../server/test/bucket';
import { Cluster } from '../../server/test/postgres';
import { House } from './house';
import { fingers } from './hands';
import { expect, test } from './story';
import { button, importAndOpen } from './treatment';
import { en } from './words';

/** A studio: two processes that serve pages, two that make files, a database and an object store, all of their own. */
let [cluster, bucket]: [Cluster | undefined, Bucket | undefined] = [undefined, undefined];
let houses: House[] = [];
test.beforeEach(async () => {
  [cluster, bucket] = [await Cluster.begin(), await Bucket.begin()];
  // What the store asks for is read from the process's own surroundings.
  Object.assign(process.env, bucket.env);
  const env = { ...bucket.env, BEXLEN_DATABASE: await cluster.database('studio'), BEXLEN_STORE: bucket.address(), BEXLEN_SILENT_SECONDS: '3' };
  houses = [];
  for (const role of ['web', 'web', 'darkroom', 'darkroom'])
    houses.push(await House.open(['--empty', '--role', role], env, role === 'darkroom' ? 'alone' : 'here'));
});
test.afterEach(async () => {
  for (const house of houses) await house.close();
  await cluster?.end();
  await bucket?.end();
});

test('a studio: imported through one server, finished on another, made by two machines of which one is lost @phone', async ({ page, context }) => {
  const [here, there, first] = houses as [House, House, House, House];
  const hands = await fingers(page);
  await importAndOpen(here, page, hands, 'dunes');
  await hands.tap(button(page, /^Add Glow /));

  // On another screen, by another server: the same photo, with what was done to it here.
  const other = await context.newPage();
  await other.goto(there.address);
  await other
    .getByRole('button', { name: /^Open dunes/ })
    .first()
    .tap();
  await expect(other.getByRole('button', { name: 'Open Glow' })).toBeVisible();
  await other.getByRole('button', { name: en.bench.export }).tap();
  await other.getByRole('radio', { name: 'PNG' }).tap();
  await other.getByRole('radio', { name: '16 bit' }).tap();
  await other.getByRole('button', { name: en.exports.makeTheFile }).tap();

  // Whoever makes it is lost; the other one makes it.
  const machines = other.getByRole('group', { name: en.exports.machinesThatMakeFiles });
  await expect(machines.getByText(/^2 machines/)).toBeVisible();
  await first.stop('SIGKILL');
  await expect(machines.getByText('is silent; what it was making was given to another')).toBeVisible();
  await expect(other.getByRole('button', { name: en.exports.download })).toBeVisible();
  const { exports } = await here.get<{ exports: ExportJob[] }>('/exports');
  expect(exports).toMatchObject([{ state: 'done', format: 'png', depth: 16 }]);
  const loading = other.waitForEvent('download');
  await other.getByRole('button', { name: en.exports.download }).tap();
  expect((await loading).suggestedFilename()).toBe('dunes - Version 1.png');
});
