/**
 * The lock file names no registry, so that npm asks it for each of some 1,400 packages where its file lies, which takes as long as all the rest. This writes it once more, for one run, with the
 * place where registries keep a file of that name and version, as `npm-shrinkwrap.json`, which npm reads first.
 */
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';

const registry = execFileSync('npm', ['config', 'get', 'registry'], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] })
  .trim()
  .replace(/\/*$/, '/');
const lock = JSON.parse(fs.readFileSync('package-lock.json', 'utf8'));
const MODULES = 'node_modules/';
for (const [place, entry] of Object.entries(lock.packages)) {
  if (!place.includes(MODULES) || entry.link || entry.resolved) continue;
  const name = entry.name ?? place.slice(place.lastIndexOf(MODULES) + MODULES.length);
  entry.resolved = `${registry}${name}/-/${name.replace(/^@[^/]*\//, '')}-${entry.version}.tgz`;
}
fs.writeFileSync('npm-shrinkwrap.json', JSON.stringify(lock));
