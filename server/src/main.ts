import { realpathSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Invitation } from './door/invitation';
import { newLog, type Log } from './log';
import { begin, USE } from './program';
import type { Running } from './server';

export { begin };

async function main(): Promise<void> {
  // What it writes is for the one who runs it, and nobody else on the machine.
  process.umask(0o077);
  const log = newLog(process.env['BEXLEN_LOG'] ?? 'warn');
  // The last line: a fault that nobody has answered for is written down, and the others are served on.
  process.on('uncaughtException', (error) => log.error({ err: error }, 'a fault that nobody answered for'));
  process.on('unhandledRejection', (error) => log.error({ err: error }, 'a fault that nobody waited for'));
  const begun = await begin(process.argv.slice(2), process.env, process.cwd(), log);
  if (!begun) return console.log(USE);
  const { says, running, invites } = begun;
  says.forEach((line) => console.log(line));
  if (invites) await new Invitation(running as Running, process.stdout, process.stdin).show();
  endWith(running, log);
}

/** Stops in order when the process is told to. */
function endWith(running: { readonly close: () => Promise<void> }, log: Log): void {
  const end = (): void => {
    running.close().then(
      () => process.exit(0),
      (error: unknown) => {
        log.error({ err: error }, 'could not be closed in order');
        process.exit(1);
      },
    );
  };
  process.once('SIGINT', end);
  process.once('SIGTERM', end);
}

const fail = (error: unknown): void => {
  const { code, message, hint } = error as { code?: string; message: string; hint?: string };
  const inUse = code === 'EADDRINUSE' ? 'The port is taken. Give another with --port N.' : undefined;
  console.error(inUse ?? (hint ? `${message}\n${hint}` : String((error as Error).stack ?? error)));
  process.exit(1);
};

// Others take what it is made of: only as a program of its own does it start.
if (realpathSync(process.argv[1] ?? '') === fileURLToPath(import.meta.url)) main().catch(fail);
