import { realpathSync } from 'node:fs';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { BexlenError, correctionsOf, cutsBetween, kindTable, readCube, TABLE_SIZES, tableOf, writeCc, writeCcc, type TableSize } from '@bexlen/core';
import { policies, sharpenings } from '@bexlen/api';
import { tableText } from '@bexlen/render/make/table';
import { Workshop } from '@bexlen/render/pool/workshop';
import { oneOf, parsed, UseError, whole } from './args';
import { checked, lookOf, taken } from './looks';
import { renderAll, type Telling } from './render';
import { printSheet } from './sheet';

const USE = `Bexlen without a browser.

  ./bexlen render PHOTO... --look LOOK.json -o OUT    renders photos with a look, or with several
      --look FILE        may be given several times: each photo with each look
      -o, --out OUT      a file, or a folder for several pictures
      --format F         jpg, png, tif, webp or avif; by the ending of OUT unless said
      --depth 8|16       bits of png and tif (png 8, tif 16)
      --quality N        of jpg, webp and avif, 1 to 100 (92, 90, 70)
      --profile P        photo, srgb or p3 (photo: as it has it)
      --size N           long edge in pixels (as the photo is)
      --within WxH       fits into so many pixels
      --megapixels N     has so many megapixels
      --sharpen S        none, screen or print (none)
      --metadata M       what the camera wrote: keep, noplace or strip (noplace)
      --name PATTERN     of {photo} {version} {taken} {today} {width} {height} {number}; version is the look
      --picture FILE     the photo that the look's pictures show; by its name beside the look unless said
  ./bexlen sheet PHOTO... --look LOOK.json -o OUT.pdf a contact sheet: each photo with each look
      --title T, --columns N (3), --page a4|letter, --across, --no-marks
  ./bexlen table LOOK.json -o OUT                     what a table can carry: .cube; .cc or .ccc of its Grade layers
      --size N           17, 33 or 65 entries a side of a .cube (33)
  ./bexlen look check LOOK.json...                    says what is wrong with look files, and where
  ./bexlen look take LOOK.json -o OUT.json            takes a part of a look as one of its own
      --layers A,B       names of layers (all)
      --without-masks, --with-strokes, --with-geometry
      --name N, --folder F, --note T
  ./bexlen move --to WHERE --store STORE              carries a house to another place; ./bexlen move --help
  ./bexlen kinds                                      lists kinds of layers and their parameters

Exit codes: 0 all is well, 1 something failed, 2 the command was not understood.`;

/** The part of the use that tells of one command. */
const useOf = (command: string): string =>
  USE.split(/\n(?= {2}\.\/bexlen |\n)/)
    .filter((part) => part.startsWith(`  ./bexlen ${command} `))
    .join('\n');

const WRONG_USE = 2;
const FAILED = 1;
const built = import.meta.dirname;

const COMMANDS: Record<string, (args: string[], tell: Telling) => number | Promise<number>> = {
  render,
  sheet,
  table,
  look,
  kinds: (_, tell) => (tell.say(kindTable()), 0),
};

/** Carries out what a command line asks for, and tells of it. Files are found from the folder that the process is in. Returns the code to end with; throws nothing. */
export async function run(words: readonly string[], tell: Telling): Promise<number> {
  try {
    const [command, ...rest] = words;
    if (command === undefined || command === '--help' || command === '-h' || command === 'help') {
      tell.say(USE);
      return command === undefined ? WRONG_USE : 0;
    }
    const act = COMMANDS[command];
    if (!act) throw new UseError(`There is no command “${command}”.`);
    if (rest.includes('--help') || rest.includes('-h')) return (tell.say(useOf(command)), 0);
    return await act(rest, tell);
  } catch (error) {
    const use = error instanceof UseError;
    const { message, hint } = error as Partial<BexlenError>;
    tell.fault(`${message}${hint ? ` ${hint}` : ''}${use ? '\nSee ./bexlen --help' : ''}`);
    return use ? WRONG_USE : FAILED;
  }
}

async function withWorkshop<T>(act: (workshop: Workshop) => Promise<T>): Promise<T> {
  const files = { worker: path.join(built, 'worker.mjs'), kernels: path.join(built, 'kernels.wasm') };
  const workshop = new Workshop(files, Math.min(8, os.availableParallelism()));
  try {
    return await act(workshop);
  } finally {
    await workshop.close();
  }
}

const text = { type: 'string' } as const;
const flag = { type: 'boolean', default: false } as const;
const many = { type: 'string', multiple: true } as const;

async function render(args: string[], tell: Telling): Promise<number> {
  const {
    values,
    all,
    positionals: photos,
  } = parsed(args, {
    look: many,
    out: { ...text, short: 'o' },
    format: text,
    depth: text,
    quality: text,
    profile: { ...text, default: 'photo' },
    size: text,
    within: text,
    megapixels: text,
    sharpen: { ...text, default: 'none' },
    metadata: { ...text, default: 'noplace' },
    name: text,
    picture: text,
  });
  if (photos.length === 0) throw new UseError('Which photos?');
  if (all('look').length === 0) throw new UseError('Which look? Give it with --look.');
  if (!values['out']) throw new UseError('Where to? Give a file or folder with -o.');
  const profile = oneOf('--profile', values['profile'] as string, ['photo', 'srgb', 'p3']);
  const depth = values['depth'] === undefined ? undefined : (Number(oneOf('--depth', values['depth'], ['8', '16'])) as 8 | 16);
  const [w, h] = values['within']?.split('x') ?? [];
  const megapixels = values['megapixels'] === undefined ? undefined : Number(values['megapixels']);
  if (megapixels !== undefined && !(megapixels > 0 && megapixels <= 500)) throw new UseError('--megapixels is a number up to 500.');
  const order = {
    photos,
    looks: await Promise.all(all('look').map(lookOf)),
    picture: values['picture'],
    out: values['out'],
    format: values['format'],
    wish: {
      gamut: profile === 'p3' ? ('display-p3' as const) : (profile as 'photo' | 'srgb'),
      sharpen: oneOf(
        '--sharpen',
        values['sharpen'] as string,
        sharpenings.map(({ id }) => id),
      ),
      metadata: oneOf(
        '--metadata',
        values['metadata'] as string,
        policies.map(({ id }) => id),
      ),
      ...(depth && { depth }),
      ...(values['quality'] !== undefined && { quality: whole('--quality', values['quality'], 1, 100) }),
      ...(values['size'] !== undefined && { edge: whole('--size', values['size'], 64, 60_000) }),
      ...(values['within'] !== undefined && {
        box: { width: whole('--within', w ?? '', 16, 65_500), height: whole('--within', h ?? '', 16, 65_500) },
      }),
      ...(megapixels !== undefined && { megapixels }),
      ...(values['name'] !== undefined && { fileName: values['name'] }),
    },
  };
  return (await withWorkshop((workshop) => renderAll(order, workshop, tell))) > 0 ? FAILED : 0;
}

async function sheet(args: string[], tell: Telling): Promise<number> {
  const {
    values,
    all,
    flag: set,
    positionals: photos,
  } = parsed(args, {
    look: many,
    out: { ...text, short: 'o' },
    title: { ...text, default: 'Contact sheet' },
    columns: { ...text, default: '3' },
    page: { ...text, default: 'a4' },
    across: flag,
    'no-marks': flag,
    picture: text,
  });
  if (photos.length === 0) throw new UseError('Which photos?');
  if (all('look').length === 0) throw new UseError('Which looks? Give them with --look.');
  const out = values['out'];
  if (!out) throw new UseError('Where to? Give a file with -o.');
  const order = {
    photos,
    looks: await Promise.all(all('look').map(lookOf)),
    picture: values['picture'],
    out,
    fonts: path.join(built, 'fonts'),
    title: values['title'] as string,
    columns: whole('--columns', values['columns'] as string, 1, 8),
    page: oneOf('--page', values['page'] as string, ['a4', 'letter']),
    upright: !set('across'),
    marks: !set('no-marks'),
  };
  await withWorkshop((workshop) => printSheet(order, workshop, tell));
  return 0;
}

async function table(args: string[], tell: Telling): Promise<number> {
  const { values, positionals } = parsed(args, { out: { ...text, short: 'o' }, size: { ...text, default: '33' } });
  const [file] = positionals;
  const out = values['out'];
  if (file === undefined) throw new UseError('Which look?');
  if (!out) throw new UseError('Where to? Give a file with -o.');
  const size = Number(oneOf('--size', values['size'] as string, TABLE_SIZES.map(String))) as TableSize;
  const read = await lookOf(file);
  const { stack, name, cubes } = read.look;
  const ending = path.extname(out).toLowerCase();
  if (ending === '.cc' || ending === '.ccc') {
    const corrections = correctionsOf(stack.layers);
    const [first] = corrections;
    if (!first) throw new BexlenError('not-found', 'No Grade layer of this look has a list.', 'Nothing was written.');
    if (ending === '.ccc' && cutsBetween(corrections))
      tell.fault(
        'one after another these lists can differ from the look: a program that follows them cuts what saturation drives beyond white and black in between',
      );
    await fs.writeFile(out, ending === '.cc' ? writeCc(first) : writeCcc(corrections));
  } else if (ending === '.cube') {
    for (const { name: layer, why } of tableOf(stack).left) tell.fault(`not in the table: ${layer}, since ${why}`);
    const cube = async (wanted: string): Promise<ReturnType<typeof readCube>> =>
      readCube(cubes[wanted] ?? (await fs.readFile(path.join(path.dirname(file), wanted), 'utf8')));
    await fs.writeFile(out, await withWorkshop((workshop) => tableText(workshop, stack, name, size, cube)));
  } else throw new UseError('A table is written as .cube, .cc or .ccc.');
  tell.say(out);
  return 0;
}

async function look(args: string[], tell: Telling): Promise<number> {
  const [what, ...rest] = args;
  if (what === 'check') return check(rest, tell);
  if (what === 'take') return take(rest, tell);
  throw new UseError('What about looks? There are check and take.');
}

async function check(args: string[], tell: Telling): Promise<number> {
  const { positionals } = parsed(args, {});
  if (positionals.length === 0) throw new UseError('Which look?');
  let wrong = 0;
  for (const file of positionals) {
    const { look: read, faults } = await checked(file);
    if (read) tell.say(`${file}: ${read.name} is well, ${read.stack.layers.length} ${read.stack.layers.length === 1 ? 'layer' : 'layers'}`);
    for (const { path: at, message } of faults) tell.fault(`${file}: ${at ? `${at}: ` : ''}${message}`);
    if (!read) wrong++;
  }
  return wrong > 0 ? FAILED : 0;
}

async function take(args: string[], tell: Telling): Promise<number> {
  const {
    values,
    flag: set,
    positionals,
  } = parsed(args, {
    out: { ...text, short: 'o' },
    layers: text,
    'without-masks': flag,
    'with-strokes': flag,
    'with-geometry': flag,
    name: text,
    folder: text,
    note: text,
  });
  const [file] = positionals;
  if (file === undefined) throw new UseError('Which look?');
  const out = values['out'];
  if (!out) throw new UseError('Where to? Give a file with -o.');
  const { text: made, left } = taken(await lookOf(file), {
    layers: values['layers']?.split(',') ?? [],
    masks: !set('without-masks'),
    strokes: set('with-strokes'),
    geometry: set('with-geometry'),
    name: values['name'],
    folder: values['folder'],
    note: values['note'],
  });
  left.forEach(tell.fault);
  await fs.writeFile(out, made);
  tell.say(out);
  return 0;
}

/** Of a process of its own. */
const onTerminal: Telling = {
  say: (line) => console.log(line),
  fault: (line) => void process.stderr.write(`${line}\n`),
  // On a terminal one line that is written over; nowhere else.
  progress: (line) => void (process.stderr.isTTY && process.stderr.write(`\r\u001b[K${line}`)),
};

if (realpathSync(process.argv[1] ?? '') === fileURLToPath(import.meta.url))
  run(process.argv.slice(2), onTerminal).then(
    (code) => (process.exitCode = code),
    (error: unknown) => {
      console.error(error);
      process.exitCode = FAILED;
    },
  );
