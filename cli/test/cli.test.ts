import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { Engine, instantiate, newMemory, type StoreFormat } from '@bexlen/core/engine';
import { readLook } from '@bexlen/core';

const root = path.resolve(import.meta.dirname, '../..');
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'bexlen-cli-'));
const at = (...parts: string[]): string => path.join(folder, ...parts);
const [width, height] = [240, 160];

interface Ended {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}
const program = path.join(root, 'build/cli.mjs');
/** The built program in a process of its own. */
const runAlone = (...args: string[]): Ended => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [program, ...args], { encoding: 'utf8', cwd: folder });
  return { code: status, out: stdout, err: stderr };
};
/** The built program in this process. */
async function run(...args: string[]): Promise<Ended> {
  const { run: carriedOut } = (await import(program)) as { run: (words: readonly string[], tell: object) => Promise<number> };
  let [out, err] = ['', ''];
  const before = process.cwd();
  process.chdir(folder);
  try {
    const tell = { say: (line: string) => (out += `${line}\n`), fault: (line: string) => (err += `${line}\n`), progress: () => undefined };
    return { code: await carriedOut(args, tell), out, err };
  } finally {
    process.chdir(before);
  }
}

const lookText = JSON.stringify({
  look: 3,
  name: 'Try',
  layers: [
    { kind: 'tone', params: { contrast: 0.2 } },
    { kind: 'blur', blend: 'soft-light', strength: 0.6, params: { radius: 0.02 } },
  ],
});

beforeAll(async () => {
  const pixels = Buffer.from({ length: width * height * 3 } as ArrayLike<number>).map((_, i) => 128 + 100 * Math.sin(i / 90));
  const raw = { width, height, channels: 3 } as const;
  await sharp(pixels, { raw }).png().toFile(at('photo.png'));
  fs.mkdirSync(at('other'));
  fs.copyFileSync(at('photo.png'), at('other/photo.png'));
  fs.writeFileSync(at('broken.jpg'), 'no picture');
  fs.writeFileSync(at('look.json'), lookText);
  fs.writeFileSync(at('bad.json'), lookText.replace('contrast', 'sparkle'));
});
afterAll(() => fs.rmSync(folder, { recursive: true }));

async function byCore(format: StoreFormat, gamut?: 'display-p3'): Promise<Uint8Array> {
  const { look } = readLook(lookText);
  if (!look) throw new Error('no look');
  const memory = newMemory(true);
  const module = await WebAssembly.compile(fs.readFileSync(path.join(root, 'build/kernels.wasm')));
  const engine = new Engine(memory, await instantiate(module, memory), 1);
  engine.open({ width, height, depth: 8, channels: 3 }).set(await sharp(at('photo.png')).raw().toBuffer());
  const rendered = engine.render({ stack: look.stack, format, ...(gamut && { gamut }) });
  return rendered ? rendered.pixels.slice() : new Uint8Array();
}

describe('render', () => {
  it('writes what the core makes, pixel for pixel', async () => {
    expect(runAlone('render', 'photo.png', '--look', 'look.json', '-o', 'out.png')).toMatchObject({ code: 0, out: 'out.png\n', err: '' });
    expect(Buffer.compare(await sharp(at('out.png')).raw().toBuffer(), await byCore('rgb8'))).toBe(0);
  });

  it('reads HEIC, many in one call too, and leaves nothing of what they were developed into', async () => {
    fs.copyFileSync(path.join(root, 'server/test/heic/plain.heic'), at('phone.heic'));
    const left = (): string[] => fs.readdirSync(os.tmpdir()).filter((name) => name.startsWith('bexlen-developed-'));
    const before = left();
    const eleven = Array<string>(11).fill('phone.heic');
    expect(runAlone('render', ...eleven, '--look', 'look.json', '-o', 'phones')).toMatchObject({ code: 0, err: '' });
    const made = fs.readdirSync(at('phones'));
    expect(made).toHaveLength(11);
    expect(await sharp(at('phones', made[0] as string)).metadata()).toMatchObject({ width: 96, height: 64 });
    expect(left()).toEqual(before);
  });

  it('writes 16 bits in Display P3 with that profile', async () => {
    expect((await run('render', 'photo.png', '--look', 'look.json', '-o', 'deep.tif', '--profile', 'p3')).code).toBe(0);
    const { depth, icc } = await sharp(at('deep.tif')).metadata();
    expect(depth).toBe('ushort');
    expect(icc?.toString('latin1').replaceAll('\0', '')).toMatch(/P3|p3/);
    const made = await sharp(at('deep.tif'), { ignoreIcc: true }).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
    expect(Buffer.compare(made, await byCore('rgb16', 'display-p3'))).toBe(0);
  });

  it('renders several into a folder, at a size, and goes on after one that is broken', async () => {
    const { code, out, err } = await run(
      'render',
      'photo.png',
      'broken.jpg',
      'other/photo.png',
      '--look',
      'look.json',
      '-o',
      'many',
      '--size',
      '120',
    );
    expect(code).toBe(1);
    expect(out.trim().split('\n')).toEqual([path.join('many', 'photo.jpg'), path.join('many', 'photo-2.jpg')]);
    expect(err).toMatch(/broken\.jpg: .*not a picture/);
    expect(await sharp(at('many/photo.jpg')).metadata()).toMatchObject({ width: 120, height: 80 });
    expect(fs.readdirSync(at('many')).sort()).toEqual(['photo-2.jpg', 'photo.jpg']);
  });

  it.each([
    [['render', 'photo.png', '--look', 'bad.json', '-o', 'x.png'], 1, /layers\.0\.params\.sparkle/],
    [['render', 'photo.png', '--look', 'look.json', '-o', 'x.gif'], 1, /no format that can be written/],
    [['render', 'photo.png', '--look', 'look.json', '-o', 'photo.png'], 1, /take the place of the photo/],
    [['render', 'photo.png', '-o', 'x.png'], 2, /Which look/],
    [['render', 'photo.png', '--look', 'look.json', '-o', 'x.png', '--quality', '900'], 2, /1 to 100/],
    [['render', 'photo.png', '--look', 'look.json', '-o', 'x.jpg', '--depth', '16'], 1, /holds 8 bits/],
    [['render', 'photo.png', '--look', 'look.json', '-o', 'x.png', '--sharpen', 'much'], 2, /none, screen or print/],
    [['render', 'photo.png', '--look', 'look.json', '-o', 'x.png', '--name', '{who}'], 1, /no word for file names/],
    [['table', 'look.json', '-o', 'x.txt'], 2, /\.cube, \.cc or \.ccc/],
    [['look', 'sing'], 2, /check and take/],
    [['paint'], 2, /no command/],
  ])('refuses %s', async (args, code, said) => {
    const result = await run(...args);
    expect(result.code).toBe(code);
    expect(result.err).toMatch(said);
    expect(fs.existsSync(at('x.png'))).toBe(false);
  });
});

describe('several versions in one go', () => {
  it('each photo with each look, named by a pattern, in any format and size', async () => {
    fs.writeFileSync(at('second.json'), lookText.replace('"Try"', '"Second"'));
    const { code, out } = await run(
      'render',
      'photo.png',
      '--look',
      'look.json',
      '--look',
      'second.json',
      '-o',
      'two',
      '--format',
      'webp',
      '--within',
      '100x50',
      '--name',
      '{number} {version}',
    );
    expect(code).toBe(0);
    expect(out.trim().split('\n')).toEqual([path.join('two', '001 Try.webp'), path.join('two', '002 Second.webp')]);
    expect(await sharp(at('two/001 Try.webp')).metadata()).toMatchObject({ format: 'webp', width: 75, height: 50 });
  });

  it('laid out on a contact sheet', async () => {
    expect(
      (await run('sheet', 'photo.png', 'other/photo.png', '--look', 'look.json', '--look', 'second.json', '-o', 'sheet.pdf', '--title', 'Both')).code,
    ).toBe(0);
    expect(fs.readFileSync(at('sheet.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
  });
});

describe('tables and parts of looks', () => {
  it('a table carries what it can and says what it leaves out', async () => {
    const { code, err } = await run('table', 'look.json', '-o', 'try.cube', '--size', '17');
    expect(code).toBe(0);
    expect(err).toBe('not in the table: Blur, since it looks at what is around a place\n');
    expect(fs.readFileSync(at('try.cube'), 'utf8')).toMatch(/^# Not in this table: Blur[\s\S]*LUT_3D_SIZE 17/);
    expect(await run('table', 'look.json', '-o', 'try.cc')).toMatchObject({ code: 1, err: expect.stringMatching(/No Grade layer/) as string });
  });

  it('lists that differ from the look one after another say so', async () => {
    const saturated = { kind: 'grade', params: { saturation: 2 } };
    const layers = [saturated, { kind: 'grade', params: { slopeRed: 1.5 } }];
    fs.writeFileSync(at('chain.json'), JSON.stringify({ look: 3, name: 'Chain', layers }));
    fs.writeFileSync(at('calm.json'), JSON.stringify({ look: 3, name: 'Calm', layers: layers.slice(1) }));
    expect(await run('table', 'chain.json', '-o', 'chain.ccc')).toMatchObject({
      code: 0,
      err: expect.stringMatching(/one after another.*can differ/) as string,
    });
    expect(await run('table', 'calm.json', '-o', 'calm.ccc')).toMatchObject({ code: 0, err: '' });
  });

  it('a look is taken out of another, by the names of its layers', async () => {
    expect((await run('look', 'take', 'look.json', '-o', 'part.json', '--layers', 'tone', '--name', 'Part', '--folder', 'Bits')).code).toBe(0);
    expect(JSON.parse(fs.readFileSync(at('part.json'), 'utf8'))).toEqual({
      look: 3,
      name: 'Part',
      folder: 'Bits',
      layers: [{ kind: 'tone', params: { contrast: 0.2 } }],
    });
    expect(await run('look', 'take', 'look.json', '-o', 'part.json', '--layers', 'sky')).toMatchObject({
      code: 1,
      err: expect.stringMatching(/no layer “sky”.*Tone, Blur/) as string,
    });
  });
});

describe('check and kinds', () => {
  it('say what is wrong where, or that all is well', async () => {
    expect(await run('look', 'check', 'look.json')).toMatchObject({ code: 0, out: 'look.json: Try is well, 2 layers\n' });
    expect(await run('look', 'check', 'bad.json')).toMatchObject({
      code: 1,
      err: 'bad.json: layers.0.params.sparkle: There is no such field here.\n',
    });
  });
  it('read the colour tables that a look names, from beside it', async () => {
    fs.mkdirSync(at('looks'));
    const text = JSON.stringify({ look: 3, name: 'Turned over', layers: [{ kind: 'cube', params: { file: 'over.cube' } }] });
    fs.writeFileSync(at('looks/over.json'), text);
    expect(await run('look', 'check', 'looks/over.json')).toMatchObject({
      code: 1,
      err: expect.stringMatching(/over\.cube: .*cannot be read/) as string,
    });
    expect((await run('render', 'photo.png', '--look', 'looks/over.json', '-o', 'over.png')).code).toBe(1);
    fs.writeFileSync(at('looks/over.cube'), 'LUT_1D_SIZE 2\n1 1 1\n0 0 0\n');
    expect((await run('look', 'check', 'looks/over.json')).code).toBe(0);
    expect((await run('render', 'photo.png', '--look', 'looks/over.json', '-o', 'over.png')).code).toBe(0);
    const [before, after] = await Promise.all(['photo.png', 'over.png'].map((file) => sharp(at(file)).removeAlpha().raw().toBuffer()));
    expect(before?.reduce((most, v, i) => Math.max(most, Math.abs(255 - v - (after?.[i] ?? 0))), 0)).toBe(0);
  });
  it('a command tells of itself alone', async () => {
    for (const asked of ['--help', '-h']) {
      const { code, out } = await run('sheet', asked);
      expect([code, out]).toEqual([0, expect.stringMatching(/^ {2}\.\/bexlen sheet PHOTO[\s\S]*--no-marks\n$/)]);
    }
    expect((await run('look', 'take', '--help')).out).toMatch(/look check LOOK[\s\S]*look take LOOK[\s\S]*--note T\n$/);
  });
  it('list kinds with their parameters', async () => expect((await run('kinds')).out).toMatch(/grain[\s\S]*size\s+4 to 80 \(16\)/));
});

describe('a look that lays another photo over', () => {
  const look = (photo: string): string =>
    JSON.stringify({
      look: 3,
      name: 'Over',
      layers: [{ kind: 'picture', name: 'Sky', params: { photo, size: 0.5, aspect: 1 }, layers: [{ kind: 'levels' }] }],
    });
  beforeAll(async () => {
    await sharp({ create: { width: 90, height: 90, channels: 3, background: { r: 200, g: 40, b: 30 } } })
      .png()
      .toFile(at('looks-red.png'));
    fs.writeFileSync(at('over.json'), look('looks-red.png'));
    fs.writeFileSync(at('slot.json'), look(''));
  });
  const middle = async (file: string): Promise<number[]> => {
    const data = await sharp(at(file)).removeAlpha().raw().toBuffer();
    const i = 3 * ((height / 2) * width + width / 2);
    return [...data.subarray(i, i + 3)];
  };

  it.each([
    ['that lies beside it', ['--look', 'over.json']],
    ['that is given', ['--look', 'slot.json', '--picture', 'looks-red.png']],
  ])('shows the one %s, and only where it lies', async (_, args) => {
    expect((await run('render', 'photo.png', ...args, '-o', 'over.png')).code).toBe(0);
    const [r = 0, g = 0, b = 0] = await middle('over.png');
    expect([Math.abs(r - 200), Math.abs(g - 40), Math.abs(b - 30)].every((off) => off <= 1)).toBe(true);
    const corner = await sharp(at('over.png')).extract({ left: 0, top: 0, width: 20, height: 20 }).raw().toBuffer();
    expect(corner).toEqual(await sharp(at('photo.png')).extract({ left: 0, top: 0, width: 20, height: 20 }).raw().toBuffer());
  });

  it('asks for one where none is said, and tells which cannot be read', async () => {
    expect(await run('render', 'photo.png', '--look', 'slot.json', '-o', 'x.png')).toMatchObject({
      code: 1,
      err: expect.stringMatching(/“Sky” shows a photo\. Give it with --picture\./) as string,
    });
    expect(await run('render', 'photo.png', '--look', 'slot.json', '--picture', 'none.png', '-o', 'x.png')).toMatchObject({
      code: 1,
      err: expect.stringMatching(/none\.png, the photo of “Sky”, cannot be read/) as string,
    });
  });
});
