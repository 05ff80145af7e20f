/** Whether built programs run with the packages that their sources were written and tested with. */
import fs from 'node:fs';
import { createRequire, isBuiltin } from 'node:module';
import path from 'node:path';

/** The package that a file belongs to, or that a name asks for: `@scope/name` or `name`. */
const packageIn = (text) => /^(@[^/]+\/[^/]+|[^/]+)/.exec(text)?.[1];
const folderOf = (file) => {
  const at = file.lastIndexOf('node_modules/');
  return at < 0 ? undefined : file.slice(0, at) + `node_modules/${packageIn(file.slice(at + 13))}`;
};

/** The folder in which a package is found from a place, as Node.js looks for it; undefined where there is none. */
function found(name, from) {
  const places = createRequire(path.join(from, 'x.js')).resolve.paths(name) ?? [];
  return places.map((place) => path.join(place, name)).find((place) => fs.existsSync(path.join(place, 'package.json')));
}

/** Names of the packages that a workspace says it needs. */
const named = (folder) => Object.keys(JSON.parse(fs.readFileSync(path.join(folder, 'package.json'), 'utf8')).dependencies ?? {});

/**
 * What is wrong, a sentence each: a package that is left outside and would be found elsewhere from the built file than from the source that names it, and one that a
 * workspace names and that is built in in two versions.
 * @param metafiles what the bundler says of each program (esbuild's metafile), with paths from `root`.
 * @param built the folder of the built files.
 */
export function versionFaults(root, metafiles, built) {
  const faults = new Set();
  const versions = new Map();
  for (const { inputs } of metafiles)
    for (const [file, { imports }] of Object.entries(inputs)) {
      const own = folderOf(file);
      if (own) {
        const { name, version } = JSON.parse(fs.readFileSync(path.join(root, own, 'package.json'), 'utf8'));
        versions.set(name, (versions.get(name) ?? new Set()).add(version));
      }
      for (const { path: wanted, external } of imports) {
        if (!external || isBuiltin(wanted) || wanted.startsWith('.')) continue;
        const name = packageIn(wanted);
        const [here, there] = [found(name, path.join(root, path.dirname(file))), found(name, built)];
        if (here !== there) faults.add(`${file} uses ${here}, and the built program would load ${there}`);
      }
    }
  const wanted = new Set(['core', 'api', 'render', 'server', 'cli'].flatMap((folder) => named(path.join(root, folder))));
  for (const [name, all] of versions) if (wanted.has(name) && all.size > 1) faults.add(`${name} is built in in versions ${[...all].join(' and ')}`);
  return [...faults];
}
