import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import type { ExportJob, Photo, Version } from '@bexlen/api';
import sharp from 'sharp';
import { demoWhole, House } from '../src/house';
import { rest, type Driver } from './driver';
import { firefox, hasFirefox } from './firefox';
import { hasWebkit, webkit } from './webkit';

/** A bound for what hangs; a busy machine takes its time. */
const PATIENCE_MS = 240_000;

/** Goes through the core of Bexlen in one browser: shelf, bench, a channel, masks, the brush, focus, a file. Throws where something is not as it should be. */
class Walk {
  constructor(
    private readonly house: House,
    private readonly page: Driver,
    private readonly pictures: string,
  ) {}

  async all(): Promise<void> {
    await this.shelf();
    await this.channel();
    await this.mask();
    if (!one) await this.focus();
    await this.file();
    await this.wide();
  }

  private async shelf(): Promise<void> {
    const { page } = this;
    await page.goto(this.house.address);
    await this.seen('button', 'Import photos');
    const isolated = await page.evaluate<boolean>('return crossOriginIsolated && typeof SharedArrayBuffer === "function"');
    console.log(`  memory is ${isolated ? '' : 'not '}shared`);
    // Handed to the field as a hand would, in the page: the drivers have no common way for files.
    await this.take('dunes.jpg', await sharp(demoWhole('dunes.jpg')).resize(900).jpeg().toBuffer());
    await this.shot('shelf');
    await this.press('button', 'Open dunes');
    await this.seen('img', 'dunes, as it is now');
    await this.until('the photo is drawn', async () => (await this.picture()) > 0);
  }

  /** Gives a file to the field for photos, and waits for it on the shelf. */
  private async take(name: string, file: Buffer): Promise<void> {
    const bytes = file.toString('base64');
    await this.page.evaluate(`
      const bytes = Uint8Array.from(atob(${JSON.stringify(bytes)}), (c) => c.charCodeAt(0));
      const carrier = new DataTransfer();
      carrier.items.add(new File([bytes], ${JSON.stringify(name)}, { type: 'image/jpeg' }));
      const field = document.querySelector('input[type=file][aria-label="Photos to import"]');
      field.files = carrier.files;
      field.dispatchEvent(new Event('change', { bubbles: true }));`);
    await this.seen('button', `Open ${name.replace(/\.jpg$/, '')}`);
  }

  /** A photo in Display P3 is drawn too, whatever this browser can hold. */
  private async wide(): Promise<void> {
    await this.page.goto(this.house.address);
    await this.seen('button', 'Import photos');
    const photo = sharp(demoWhole('lantern-lane.jpg')).resize(600).modulate({ saturation: 1.6 });
    await this.take('wide.jpg', await photo.withIccProfile('p3').jpeg({ quality: 95 }).toBuffer());
    await this.press('button', 'Open wide');
    await this.seen('img', 'wide, as it is now');
    await this.until('a photo in Display P3 is drawn', async () => (await this.picture()) > 0);
    await this.shot('wide');
  }

  private async channel(): Promise<void> {
    await this.press('button', /^Add Tone /);
    const before = await this.picture();
    await this.draw(await this.place('slider', 'Brightness of Tone'), 50, 0);
    await this.until('the picture follows the fader', async () => (await this.picture()) !== before);
    await this.kept((version) => paramOf(version, 0, 'brightness') !== 0);
    await this.shot('channel');
  }

  private async mask(): Promise<void> {
    await this.press('radio', 'Where');
    await this.press('button', /^Oval:/);
    await rest(400);
    const photo = await this.place('img', 'dunes, as it is now');
    await this.draw({ x: photo.x, y: photo.y }, 40, 20);
    const parts = (version: Version): number => layersOf(version)[0]?.mask.parts.length ?? 0;
    await this.kept((version) => parts(version) === 1);
    await this.press('button', 'Add part');
    await this.press('button', /^Brush:/);
    await rest(400);
    await this.draw({ x: photo.x - 60, y: photo.y + 30 }, 90, -20);
    await this.kept((version) => String(layersOf(version)[0]?.mask.parts[1]?.params['strokes'] ?? '') !== '');
    await this.shot('mask');
    await this.press('button', 'Back to the desk');
  }

  private async focus(): Promise<void> {
    await this.press('button', 'Add a layer');
    await this.press('button', /^Add Band focus /);
    await rest(400);
    const photo = await this.place('img', 'dunes, as it is now');
    const before = await this.picture();
    await this.draw({ x: photo.x, y: photo.y }, 0, 30);
    await this.until('the band moves', async () => (await this.picture()) !== before);
    await this.kept((version) => layersOf(version).length === 2);
    await this.shot('focus');
    await this.press('button', 'Back to the desk');
  }

  private async file(): Promise<void> {
    await this.press('button', 'Export');
    await this.press('button', 'Make the file');
    const job = async (): Promise<ExportJob | undefined> => (await this.house.get<{ exports: ExportJob[] }>('/exports')).exports[0];
    await this.until('the file is made', async () => (await job())?.state === 'done');
    const answer = await fetch(`${this.house.address}/api/exports/${(await job())?.id}/file`);
    const { width } = await sharp(Buffer.from(await answer.arrayBuffer())).metadata();
    if (!width) throw new Error('the file is no picture');
    await this.shot('export');
  }

  /** A sum over the picture as it is shown. */
  private picture(): Promise<number> {
    return this.page.evaluate<number>(`
      const canvas = document.querySelector('canvas[role=img][aria-label$=", as it is now"]') ?? document.querySelector('canvas');
      if (!canvas) return 0;
      const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
      let sum = 0;
      for (let i = 0; i < data.length; i += 397) sum += data[i] * ((i % 8191) + 1);
      return sum;`);
  }

  /** The middle of what has a role and a name, in sight; nothing while it is not there. */
  private find(role: string, name: string | RegExp): Promise<{ x: number; y: number } | null> {
    const test = typeof name === 'string' ? `(label) => label === ${JSON.stringify(name)}` : `(label) => ${String(name)}.test(label)`;
    return this.page.evaluate(`
      const fits = ${test};
      const roles = { button: 'button, [role=button]', radio: '[role=radio]', slider: '[role=slider]', img: '[role=img]' };
      const found = [...document.querySelectorAll(roles[${JSON.stringify(role)}])].find((it) => fits(it.getAttribute('aria-label') ?? it.textContent ?? '') && it.getClientRects().length > 0);
      if (!found) return null;
      found.scrollIntoView({ block: 'nearest', inline: 'nearest' });
      const { x, y, width, height } = found.getBoundingClientRect();
      return { x: x + width / 2, y: y + height / 2 };`);
  }

  private async place(role: string, name: string | RegExp): Promise<{ x: number; y: number }> {
    await this.seen(role, name);
    return (await this.find(role, name)) as { x: number; y: number };
  }

  private seen(role: string, name: string | RegExp): Promise<void> {
    return this.until(`${role} ${String(name)} is there`, async () => (await this.find(role, name)) !== null);
  }

  private async press(role: string, name: string | RegExp): Promise<void> {
    const { x, y } = await this.place(role, name);
    await this.page.drag([x, y]);
    await rest(250);
  }

  private async draw({ x, y }: { x: number; y: number }, dx: number, dy: number): Promise<void> {
    const steps = [1, 2, 3, 4, 5].map((i) => [x + (dx * i) / 5, y + (dy * i) / 5] as const);
    await this.page.drag([x, y], ...steps);
    await rest(250);
  }

  /** Waits until the server has what was done. */
  private kept(has: (version: Version) => boolean): Promise<void> {
    return this.until('the work is kept', async () => {
      const [photo] = (await this.house.get<{ photos: Photo[] }>('/photos')).photos;
      return has(await this.house.get<Version>(`/versions/${photo?.versions[0]?.id}`));
    });
  }

  private async until(what: string, holds: () => Promise<boolean>): Promise<void> {
    const end = Date.now() + PATIENCE_MS;
    while (!(await holds())) {
      if (Date.now() > end) throw new Error(`this did not come: ${what}`);
      await rest(150);
    }
    console.log(`  ${what}`);
  }

  private shot(name: string): Promise<void> {
    return this.page.shot(path.join(this.pictures, `${this.page.name.replace(/ /g, '-')}-${name}.png`));
  }
}

const layersOf = ({ steps, cursor }: Version) => steps[cursor]?.stack.layers ?? [];
function paramOf(version: Version, at: number, name: string): unknown {
  const layer = layersOf(version)[at];
  return layer && layer.kind !== 'group' ? layer.params[name] : undefined;
}

/** One way each with `--one`: Firefox where memory is shared, WebKit where it is not, as it comes. */
const one = process.argv.includes('--one');
const missing = [...(hasFirefox() ? [] : ['firefox-esr']), ...(hasWebkit() ? [] : ['webkit2gtk-driver with xvfb and scrot'])];
if (missing.length > 0) console.log(`Not installed, and not gone through: ${missing.join(', ')}.`);
const installed = [
  ...(hasFirefox() ? [() => firefox(true), ...(one ? [] : [() => firefox(false)])] : []),
  ...(hasWebkit() ? [() => webkit(false), ...(one ? [] : [() => webkit(true)])] : []),
];
const pictures = await fs.mkdtemp(path.join(os.tmpdir(), 'bexlen-browsers-'));
let failed = 0;
for (const open of installed) {
  const house = await House.open();
  const page = await open();
  console.log(page.name);
  try {
    await new Walk(house, page, pictures).all();
  } catch (error) {
    failed++;
    console.log(`  FAILED: ${(error as Error).message}`);
    await page.shot(path.join(pictures, `${page.name.replace(/ /g, '-')}-failed.png`)).catch(() => undefined);
  } finally {
    await page.close();
    await house.close();
  }
}
const passed = installed.length - failed;
failed += missing.length;
if (one) await fs.writeFile('build/browsers.json', JSON.stringify({ passed, failed, skipped: 0 }));
console.log(`${passed} gone through, ${failed} failed; pictures in ${pictures}`);
process.exit(failed > 0 ? 1 : 0);
