/** Runs the server's tests on a PostgreSQL server and an object store of their own, in the place of data folders: `npm run postgres [-- --store] [PATH...]`. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { Bucket } from './bucket';
import { Cluster, programs } from './postgres';

async function main(): Promise<void> {
  if (!programs()) return console.log('There is no PostgreSQL on this machine: left out. Install it with: apt-get install postgresql');
  const paths = process.argv.slice(2).filter((arg) => arg !== '--store');
  const cluster = await Cluster.begin();
  const bucket = process.argv.includes('--store') ? await Bucket.begin() : undefined;
  try {
    const objects = bucket && { ...bucket.env, BEXLEN_TEST_STORE: bucket.endpoint };
    const env = { ...process.env, BEXLEN_TEST_POSTGRES: cluster.address(), ...objects };
    const tests = spawn(process.execPath, ['scripts/unit.mjs', ...(paths.length > 0 ? paths : ['server/test'])], { env, stdio: 'inherit' });
    [process.exitCode] = (await once(tests, 'exit')) as [number];
  } finally {
    await cluster.end();
    await bucket?.end();
  }
}

main().catch((error: unknown) => {
  console.error(error);
  process.exitCode = 1;
});
