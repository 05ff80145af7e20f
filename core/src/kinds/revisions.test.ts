import fs from 'node:fs';
import path from 'node:path';
import { floats } from '../../test/engine';
import { layer, scene, stackOf } from '../../test/kernels';
import { compact } from '../stack/compact';
import { readStack } from '../stack/read';
import type { Layout } from '../pixels/picture';
import { newLayer } from '../stack/edit';
import { kinds, revisionOf } from '.';

/** Values of a kept stack of each revision of each kind that has several, made when the revision was new. */
const file = path.join(import.meta.dirname, 'revisions.json');
const layout: Layout = { width: 96, height: 64, depth: 16, channels: 3 };
const values = scene(layout.width, layout.height, 3);
const PLACES = Array.from({ length: 40 }, (_, i) => (i * 151 + 7) % (layout.width * layout.height));
const revised = kinds
  .filter((kind) => revisionOf(kind) > 1)
  .flatMap((kind) => Array.from({ length: revisionOf(kind) }, (_, i) => [kind.id, i + 1] as const));

async function made(id: (typeof revised)[number][0], revision: number): Promise<number[]> {
  const stack = stackOf(layer(id, id === 'haze' ? { clear: 1 } : {}, { revision }));
  const image = await floats(stack, layout, (i) => values[i] as number);
  return PLACES.flatMap((p) => [0, 1, 2].map((c) => Math.round((image[4 * p + c] as number) * 2550) / 10));
}

describe('what was finished stays as it is', () => {
  const kept = (fs.existsSync(file) ? JSON.parse(fs.readFileSync(file, 'utf8')) : {}) as Record<string, number[]>;
  it.each(revised)('%s, revision %d, makes the numbers that were kept', async (id, revision) => {
    const now = await made(id, revision);
    const then = kept[`${id} ${revision}`] ?? [];
    expect(then).toHaveLength(now.length);
    const worst = now.reduce((most, v, i) => Math.max(most, Math.abs(v - (then[i] as number))), 0);
    expect(worst).toBeLessThan(0.5);
  });

  it.each(revised.filter(([, revision]) => revision > 1))('%s, revision %d, differs from the one before', async (id, revision) => {
    const [before, after] = [await made(id, revision - 1), await made(id, revision)];
    expect(Math.max(...before.map((v, i) => Math.abs(v - (after[i] as number))))).toBeGreaterThan(1);
  });

  it('a new layer is of the newest, one that says nothing of the first, and both come back from the wire', () => {
    expect(newLayer('glow', 'a').revision).toBe(2);
    expect(newLayer('tone', 'a').revision).toBeUndefined();
    const stack = stackOf(newLayer('glow', 'a'), { ...layer('tone'), kind: 'glow' as const, params: newLayer('glow', 'b').params });
    expect(readStack(compact(stack)).layers.map((it) => (it.kind === 'group' ? 0 : (it.revision ?? 1)))).toEqual([2, 1]);
    const newer = { ...newLayer('glow', 'a'), revision: 3 };
    expect(() => readStack(compact(stackOf(newer)))).toThrow(/A newer Bexlen made this layer/);
  });
});

describe('glow of the highlights only', () => {
  it('changes nothing by more than half a level far from any light', async () => {
    const dark: Layout = { width: 400, height: 200, depth: 16, channels: 3 };
    const at = (i: number): number => (Math.floor(i / 3) % 400 > 390 ? 1 : 0.15);
    const stack = stackOf(layer('glow', { shadows: 0, strength: 1, radius: 0.01 }, { revision: 2 }));
    const [plain, glowing] = [await floats(stackOf(), dark, at), await floats(stack, dark, at)];
    for (let x = 0; x < 300; x += 10) {
      const p = 4 * (100 * 400 + x);
      expect(Math.abs((glowing[p] as number) - (plain[p] as number)) * 255).toBeLessThan(0.5);
    }
    expect((glowing[4 * (100 * 400 + 388)] as number) - (plain[4 * (100 * 400 + 388)] as number)).toBeGreaterThan(0.02);
  });
});
