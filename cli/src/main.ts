import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { decodeFitted } from '@bexlen/server/decode';
import { inspect } from '@bexlen/server/inspect';
import { BexlenError, cubesIn, echoed, kindTable, readCube, readLook, type Cube, type Look, type LookFault, type Pixels } from '@bexlen/core';
import { Workshop } from '@bexlen/server/workshop';
import { renderAll, type RenderOrder } from './render';

const USE = `Bexlen without a browser.

  ./bexlen render PHOTO... --look LOOK.json -o OUT    renders photos with a look
      -o, --out OUT      a file, or a folder for several photos
      --format F         jpg, png or tif; by the ending of OUT unless said
      --depth 8|16       bits of png and tif (png 8, tif 16)
      --quality N        of jpg, 1 to 100 (92)
      --profile P        srgb or p3 (srgb)
      --picture FILE     the photo that the look's pictures show; by its name beside the look unless said
      --size N           long edge in pixels (as the photo is)
  ./bexlen check LOOK.json                            says what is wrong with a look file, and where
  ./bexlen kinds                                      lists kinds of layers and their parameters

Exit codes: 0 all is well, 1 something failed, 2 the command was not understood.`;

const WRONG_USE = 2;
const FAILED = 1;

class UseError extends Error {}

async function main(): Promise<number> {
  const [command, ...rest] = process.argv.slice(2);
  if (command === undefined || command === '--help' || command === '-h' || command === 'help') {
    console.log(USE);
    return command === undefined ? WRONG_USE : 0;
  }
  if (command === 'render') return render(rest);
  if (command === 'check') return check(rest);
  if (command === 'kinds') {
    console.log(kindTable());
    return 0;
  }
  throw new UseError(`There is no command “${command}”.`);
}

async function render(args: string[]): Promise<number> {
  const { values, positionals: photos } = parsed(args, {
    look: { type: 'string' },
    out: { type: 'string', short: 'o' },
    format: { type: 'string' },
    depth: { type: 'string' },
    quality: { type: 'string', default: '92' },
    profile: { type: 'string', default: 'srgb' },
    size: { type: 'string' },
    picture: { type: 'string' },
  });
  if (photos.length === 0) throw new UseError('Which photos?');
  if (!values['look']) throw new UseError('Which look? Give it with --look.');
  if (!values['out']) throw new UseError('Where to? Give a file or folder with -o.');
  const profile = values['profile'] as string;
  if (profile !== 'srgb' && profile !== 'p3') throw new UseError(`There is no profile “${profile}”: srgb or p3.`);
  if (values['depth'] !== undefined && values['depth'] !== '8' && values['depth'] !== '16') throw new UseError('--depth is 8 or 16.');
  const order: RenderOrder = {
    photos,
    look: await lookOf(values['look']),
    cube: cubesBeside(values['look']),
    picture: picturesBeside(values['look'], values['picture']),
    out: values['out'],
    quality: whole('--quality', values['quality'] as string, 1, 100),
    gamut: profile === 'p3' ? 'display-p3' : 'srgb',
    ...(values['format'] && { format: values['format'] }),
    ...(values['depth'] && { depth: Number(values['depth']) as 8 | 16 }),
    ...(values['size'] && { size: whole('--size', values['size'], 1, 100_000) }),
  };
  const built = import.meta.dirname;
  const workshop = new Workshop(
    { worker: path.join(built, 'worker.mjs'), kernels: path.join(built, 'kernels.wasm') },
    Math.min(8, os.availableParallelism()),
  );
  try {
    const failed = await renderAll(order, workshop, (line) => console.log(line), showProgress);
    return failed > 0 ? FAILED : 0;
  } finally {
    await workshop.close();
  }
}

async function check(args: string[]): Promise<number> {
  const { positionals } = parsed(args, {});
  if (positionals.length === 0) throw new UseError('Which look?');
  let wrong = 0;
  for (const file of positionals) {
    const { look, faults } = await checked(file);
    if (look) console.log(`${file}: ${look.name} is well, ${look.stack.layers.length} ${look.stack.layers.length === 1 ? 'layer' : 'layers'}`);
    for (const { path: at, message } of faults) process.stderr.write(`${file}: ${at ? `${at}: ` : ''}${message}\n`);
    if (!look) wrong++;
  }
  return wrong > 0 ? FAILED : 0;
}

/** A look with the colour tables that it names, or all that is wrong with either. */
async function checked(file: string): Promise<ReturnType<typeof readLook>> {
  const read = readLook(await textOf(file));
  if (!read.look) return read;
  const faults: LookFault[] = [];
  for (const name of new Set(cubesIn(read.look.stack.layers)))
    await cubesBeside(file)(name).catch((error: Error) => faults.push({ path: name, message: error.message }));
  return faults.length > 0 ? { look: undefined, faults } : read;
}

/** Reads the colour tables that a look names by paths from where it lies. */
const cubesBeside =
  (look: string) =>
  async (name: string): Promise<Cube> =>
    readCube(await textOf(path.join(path.dirname(look), name)));

/** Reads photos that a look lays over: the one that was given for all of them, or by paths from where the look lies. */
const picturesBeside =
  (look: string, given: string | undefined) =>
  async (name: string, edge: number, layer: string): Promise<Pixels> => {
    if (given === undefined && name === '') throw new BexlenError('not-found', `“${echoed(layer)}” shows a photo.`, 'Give it with --picture.');
    const file = given ?? path.join(path.dirname(look), name);
    await fs.access(file).catch(() => {
      throw new BexlenError('not-found', `${file}, the photo of “${echoed(layer)}”, cannot be read.`, 'Give another with --picture.');
    });
    const { depth, alpha } = await inspect(file, path.basename(file));
    const { layout, pixels } = await decodeFitted({ file, depth, alpha }, Math.max(16, edge));
    return { layout, bytes: pixels };
  };

async function lookOf(file: string): Promise<Look> {
  const { look, faults } = readLook(await textOf(file));
  if (look) return look;
  const [first] = faults;
  const more = faults.length > 1 ? ` (and ${faults.length - 1} more)` : '';
  throw new BexlenError(
    'bad-version',
    `${file}: ${first?.path ? `${first.path}: ` : ''}${first?.message ?? ''}${more}`,
    `See ./bexlen check ${file}`,
  );
}

const textOf = (file: string): Promise<string> =>
  fs.readFile(file, 'utf8').catch(() => {
    throw new BexlenError('not-found', `${file} cannot be read.`, 'Look at its name and folder.');
  });

type Options = NonNullable<Parameters<typeof parseArgs>[0]>['options'];

function parsed(args: string[], options: Options): { values: Record<string, string | undefined>; positionals: string[] } {
  try {
    const { values, positionals } = parseArgs({ args, allowPositionals: true, ...(options && { options }) });
    return { values: values as Record<string, string | undefined>, positionals };
  } catch (error) {
    throw new UseError((error as Error).message);
  }
}

function whole(name: string, text: string, least: number, most: number): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < least || value > most) throw new UseError(`${name} is a whole number from ${least} to ${most}.`);
  return value;
}

/** On a terminal one line that is written over; nowhere else. */
function showProgress(line: string): void {
  if (process.stderr.isTTY) process.stderr.write(`\r\u001b[K${line}`);
}

main().then(
  (code) => (process.exitCode = code),
  (error: unknown) => {
    const use = error instanceof UseError;
    const { message, hint } = error as Partial<BexlenError>;
    process.stderr.write(`${message}${hint ? ` ${hint}` : ''}\n${use ? 'See ./bexlen --help\n' : ''}`);
    process.exitCode = use ? WRONG_USE : FAILED;
  },
);
