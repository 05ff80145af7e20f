/** Runs the server's tests on a PostgreSQL server of their own, in the place of databases in folders: `npm run postgres [PATH...]`. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { Cluster, programs } from './postgres';

async function main(): Promise<void> {
  if (!programs()) return console.log('There is no PostgreSQL on this machine: left out. Install it with: apt-get install postgresql');
  const cluster = await Cluster.begin();
  try {
    const paths = process.argv.slice(2);
    const env = { ...process.env, BEXLEN_TEST_POSTGRES: cluster.address() };
    const tests = spawn(process.execPath, ['scripts/unit.mjs', ...(paths.length > 0 ? paths : ['server/test'])], { env, stdio: 'inherit' });
    [process.exitCode] = (await once(tests, 'exit')) as [number];
  } finally {
    await cluster.end();
  }
}

main().catch((error: unknown) => {
  console.error(error);
  process.exitCode = 1;
});
