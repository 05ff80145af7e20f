import fs from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';

const source = fs.readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What a checker of WCAG 2.2, A and AA, finds on a page. */
export async function faults(page: Page): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(source);
  return page.evaluate(async () => {
    const { axe } = globalThis as unknown as {
      axe: { run: (where: Document, how: unknown) => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
    };
    const { violations } = await axe.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
      resultTypes: ['violations'],
      preload: false,
    });
    return violations.flatMap(({ id, nodes }) => nodes.map(({ html }) => `${id}: ${html.slice(0, 160)}`));
  });
}
