/** Runs some scripts of package.json side by side, each on a processor of its own; what they say comes when they end. */
import { Buffer } from 'node:buffer';
import { spawn } from 'node:child_process';

const run = (name) =>
  new Promise((resolve) => {
    const child = spawn('npm', ['run', '--silent', name], { stdio: ['ignore', 'pipe', 'pipe'] });
    const said = [];
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => said.push(part));
    child.on('close', (code) => {
      process.stdout.write(Buffer.concat(said));
      resolve(code ?? 1);
    });
  });

const codes = await Promise.all(process.argv.slice(2).map(run));
process.exit(Math.max(...codes));
