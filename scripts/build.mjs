/** Builds everything that is run: kernels, server, workers, app. What has not changed is not built again. */
import { Buffer } from 'node:buffer';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { promisify } from 'node:util';
import zlib from 'node:zlib';
import { build } from 'esbuild';
import sharp from 'sharp';
import { swept } from './running.mjs';
import { versionFaults } from './versions.mjs';

const root = path.resolve(import.meta.dirname, '..');
const at = (...parts) => path.join(root, ...parts);
const run = (command, args, options = {}) => execFileSync(command, args, { stdio: 'inherit', cwd: root, ...options });

/** One hash over files and folders, by name and content. */
function hashOf(...places) {
  const sum = createHash('sha256');
  const add = (place) => {
    const stat = fs.statSync(place, { throwIfNoEntry: false });
    if (!stat) return;
    if (stat.isDirectory()) {
      const names = fs.readdirSync(place).sort();
      for (const name of names) if (!['node_modules', 'dist', 'build', '.expo'].includes(name)) add(path.join(place, name));
    } else if (!/\.test\.tsx?$/.test(place)) sum.update(path.relative(root, place)).update(fs.readFileSync(place));
  };
  places.map((place) => at(place)).forEach(add);
  return sum.digest('hex').slice(0, 12);
}

/** Runs a step unless its sources are as they were when it last ran and its product is there. */
async function step(name, sources, product, make) {
  const stamp = at('build', `${name}.stamp`);
  const hash = hashOf('scripts/build.mjs', 'scripts/versions.mjs', 'package-lock.json', ...sources);
  if (fs.existsSync(product) && fs.existsSync(stamp) && fs.readFileSync(stamp, 'utf8') === hash) return;
  console.log(`building ${name}`);
  await make();
  fs.writeFileSync(stamp, hash);
}

function kernels(file) {
  const asc = at('node_modules/assemblyscript/bin/asc.js');
  const enabled = ['simd', 'bulk-memory', 'threads'].flatMap((feature) => ['--enable', feature]);
  const memory = ['--importMemory', '--sharedMemory', '--initialMemory', '16', '--maximumMemory', '65536'];
  run(process.execPath, [asc, 'core/kernels/wasm/index.ts', '-o', file, '-O3', '--noAssert', '--runtime', 'stub', ...enabled, ...memory], {
    // Vectors are passed between functions of the program only.
    stdio: ['ignore', 'inherit', 'pipe'],
  });
}

/** A program whose memory, imported as shared with a largest size, is not shared: in the limits of the import the flags are 1 in the place of 3 (WebAssembly, threads proposal). */
function withOwnMemory(bytes) {
  const name = Buffer.from('\x06memory\x02\x03', 'latin1');
  const at = bytes.indexOf(name);
  if (at < 0 || bytes.indexOf(name, at + 1) >= 0) throw new Error('the kernels do not import one shared memory');
  const own = Buffer.from(bytes);
  own[at + name.length - 1] = 1;
  return own;
}

const bundle = (entry, outfile, options) =>
  build({
    ...{ entryPoints: [at(entry)], outfile, bundle: true, format: 'esm', target: 'es2022', logLevel: 'warning', absWorkingDir: root },
    ...{ plugins: [zodInEnglish], ...options },
  });

async function workers() {
  const folder = at('app/public/engine');
  fs.rmSync(folder, { recursive: true, force: true });
  fs.mkdirSync(folder, { recursive: true });
  const named = (name, ending, bytes) => {
    const file = `${name}-${createHash('sha256').update(bytes).digest('hex').slice(0, 12)}.${ending}`;
    fs.writeFileSync(path.join(folder, file), bytes);
    return `/engine/${file}`;
  };
  const worker = await bundle('app/src/engine/worker.ts', undefined, { write: false, minify: true });
  const built = {
    worker: named('worker', 'js', worker.outputFiles[0].contents),
    kernels: named('kernels', 'wasm', fs.readFileSync(at('core/build/kernels.wasm'))),
    kernelsAlone: named('kernels-alone', 'wasm', fs.readFileSync(at('core/build/kernels-alone.wasm'))),
  };
  fs.writeFileSync(at('app/src/engine/built.json'), `${JSON.stringify(built, null, 2)}\n`);
}

function fonts() {
  for (const folder of ['app/public/fonts', 'build/fonts']) fs.mkdirSync(at(folder), { recursive: true });
  const files = {
    '@fontsource/barlow-semi-condensed': [
      'barlow-semi-condensed-latin-400-normal',
      'barlow-semi-condensed-latin-500-normal',
      'barlow-semi-condensed-latin-600-normal',
    ],
    '@fontsource/spline-sans-mono': ['spline-sans-mono-latin-400-normal', 'spline-sans-mono-latin-500-normal'],
  };
  for (const [name, list] of Object.entries(files))
    for (const file of list) {
      fs.copyFileSync(at('node_modules', name, 'files', `${file}.woff2`), at('app/public/fonts', `${file}.woff2`));
      // For paper.
      fs.copyFileSync(at('node_modules', name, 'files', `${file}.woff`), at('build/fonts', `${file}.woff`));
    }
}

/** Icons for home screens, drawn from the mark; one leaves room for any shape that it may be cut to. */
async function icons() {
  const mark = fs.readFileSync(at('app/public/mark.svg'));
  fs.mkdirSync(at('app/public/icons'), { recursive: true });
  const sides = (room) => ({ top: room, bottom: room, left: room, right: room });
  const draw = (size, name, within = size) =>
    sharp(mark, { density: (72 * within) / 32 })
      .resize(within, within)
      .extend({ ...sides((size - within) / 2), background: '#303030' })
      .png({ compressionLevel: 9 })
      .toFile(at('app/public/icons', `${name}.png`));
  await Promise.all([draw(192, 'icon-192'), draw(512, 'icon-512'), draw(512, 'maskable-512', 400), draw(180, 'apple-180')]);
}

/** Files of the page that are kept for when the server is away. */
const KEPT = /^(index\.html|base\.css|mark\.svg|manifest\.webmanifest|_expo\/.*\.js|(engine|fonts|icons)\/[^/]+)$/;
/** Of those, the ones whose names change with what they hold. */
const NAMED_BY_CONTENT = /^(_expo|engine)\//;

/** The worker that keeps the page for when the server is away, with the list of all its files. */
async function offline() {
  const dist = at('app/dist');
  const files = fs.readdirSync(dist, { recursive: true }).filter((file) => KEPT.test(file));
  const revisionOf = (file) => (NAMED_BY_CONTENT.test(file) ? null : hashOf(path.join('app/dist', file)));
  const define = {
    PAGE_FILES: JSON.stringify(files.sort().map((file) => ({ url: `/${file}`, revision: revisionOf(file) }))),
    'process.env.NODE_ENV': '"production"',
  };
  await bundle('app/src/offline/worker.ts', at('app/dist/sw.js'), { minify: true, define, format: 'iife' });
}

/** Texts of the page are compressed once, as small as it goes, and served so: by each of both ways that browsers ask for (RFC 7932, RFC 1952). */
async function compressed() {
  const brotli = promisify(zlib.brotliCompress);
  const gzip = promisify(zlib.gzip);
  const folder = at('app/dist');
  const files = fs.readdirSync(folder, { recursive: true }).filter((name) => /\.(js|css|html|svg|wasm|webmanifest)$/.test(name));
  // Each in a thread of its own.
  await Promise.all(
    files.map(async (name) => {
      const file = path.join(folder, name);
      const bytes = fs.readFileSync(file);
      const small = await brotli(bytes, {
        params: { [zlib.constants.BROTLI_PARAM_QUALITY]: 10, [zlib.constants.BROTLI_PARAM_SIZE_HINT]: bytes.length },
      });
      fs.writeFileSync(`${file}.br`, small);
      fs.writeFileSync(`${file}.gz`, await gzip(bytes, { level: 9 }));
    }),
  );
}

fs.mkdirSync(at('build'), { recursive: true });
fs.mkdirSync(at('core/build'), { recursive: true });
/** Packages that bring files of their own beside their code, which they look for where they are installed. All others are built in. */
const external = ['sharp', 'koffi', '@electric-sql/pglite', 'pg', 'pg-boss', '@aws-sdk/*', 'piscina', 'pdfkit', 'libheif-js', 'libraw-wasm'];
/** What is built in may ask for Node's own modules in the older way. */
const banner = { js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);" };

/** Of the words that zod brings in fifty languages the programs take one, as the page does. */
const zodInEnglish = {
  name: 'zod in English',
  setup: ({ onResolve }) =>
    onResolve({ filter: /^\.\.\/locales\/index\.js$/ }, ({ resolveDir }) =>
      resolveDir.includes(`${path.sep}zod${path.sep}`) ? { path: path.join(resolveDir, '../locales/en.js') } : undefined,
    ),
};

/** Where parts lie that several programs have in common, or that are loaded only when they are needed. */
const PARTS = 'build/parts';

/** Programs that Node.js runs. Throws where one of them would load another version of a package than its source does. */
async function programs(entries) {
  fs.rmSync(at(PARTS), { recursive: true, force: true });
  const { metafile } = await build({
    entryPoints: Object.fromEntries(entries.map(([entry, name]) => [name, at(entry)])),
    outdir: at('build'),
    outExtension: { '.js': '.mjs' },
    chunkNames: 'parts/[name]-[hash]',
    bundle: true,
    splitting: true,
    format: 'esm',
    target: 'es2022',
    platform: 'node',
    logLevel: 'warning',
    absWorkingDir: root,
    external,
    banner,
    metafile: true,
    sourcemap: true,
    plugins: [zodInEnglish],
    // What is never read is not parsed either; names stay, for the log.
    minifyWhitespace: true,
    minifySyntax: true,
  });
  const faults = versionFaults(root, [metafile], at('build'));
  if (faults.length > 0) throw new Error(`The built programs would run with other packages than their sources:\n  ${faults.join('\n  ')}`);
}

await step('kernels', ['core/kernels/wasm'], at('core/build/kernels.wasm'), () => {
  kernels('core/build/kernels.wasm');
  // For a browser whose workers share no memory: the same code, whose memory is not called shared. Both were made once, and differed in this byte alone.
  fs.writeFileSync(at('core/build/kernels-alone.wasm'), withOwnMemory(fs.readFileSync(at('core/build/kernels.wasm'))));
});
await step(
  'server',
  ['core/src', 'core/kernels', 'api', 'render', 'server/src', 'server/package.json', 'cli/src'],
  at('build/server.mjs'),
  async () => {
    fs.copyFileSync(at('core/build/kernels.wasm'), at('build/kernels.wasm'));
    await programs([
      ['server/src/main.ts', 'server'],
      ['server/src/move/main.ts', 'move'],
      ['cli/src/main.ts', 'cli'],
      ['render/src/pool/worker.ts', 'worker'],
      ['server/src/decoders/decoder-process.ts', 'decoder'],
      ['server/src/http/check-thread.ts', 'checks'],
    ]);
    fs.mkdirSync(at('build/pair'), { recursive: true });
    for (const part of ['pair.html', 'pair.css']) fs.copyFileSync(at('server/src/door/page', part), at('build/pair', part));
    await bundle('server/src/door/page/pair.ts', at('build/pair/pair.js'), { minify: true });
  },
);
await step('workers', ['core/src', 'core/kernels', 'app/src/engine/worker.ts'], at('app/src/engine/built.json'), workers);
fonts();
await icons();
if (!process.argv.includes('--no-app'))
  await step('app', ['core/src', 'core/kernels/reference', 'api/src', 'app'], at('app/dist/sw.js'), async () => {
    run(process.execPath, [...swept, at('node_modules/expo/bin/cli'), 'export', '--platform', 'web'], {
      cwd: at('app'),
      env: { ...process.env, EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', CI: '1', NODE_ENV: 'production' },
    });
    await offline();
    await compressed();
  });
