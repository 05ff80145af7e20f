/** Keeps the hot loops of the kernels in the form that compiles to fast code: an innermost loop over pixels is tested at its bottom. */
import fs from 'node:fs';
import path from 'node:path';

const folder = 'core/kernels/wasm';
const faults = [];
for (const file of fs.readdirSync(folder)) {
  const lines = fs.readFileSync(path.join(folder, file), 'utf8').split('\n');
  lines.forEach((line, i) => {
    const top = /^(\s*)(for|while) \(.*\{\s*$/.exec(line);
    if (!top) return;
    const indent = top[1].length;
    const end = lines.findIndex((other, j) => j > i && other.startsWith(`${' '.repeat(indent)}}`));
    const body = lines.slice(i + 1, end);
    // A loop with another loop inside is an outer one; remainders after an unrolled loop are allowed by name.
    const innermost = !body.some((inner) => /\b(do|for|while)\b/.test(inner));
    const calls = body.some((inner) => /\b(halveDown|halveAcross|firInside|firBorder)\(/.test(inner));
    if (innermost && !calls && !/rest|n >= 4|d < (end|stop)/.test(line)) faults.push(`${file}:${i + 1}: ${line.trim()}`);
  });
}
if (faults.length > 0) {
  console.error(`These loops are tested at the top; write them as do { } while:\n  ${faults.join('\n  ')}`);
  process.exit(1);
}
