import { expect as plain, type Locator } from '@playwright/test';

/** As long as every expectation waits: see the configuration. */
const MOST_MS = 60_000;

/**
 * Waits without a look at all of the page: the plain one describes the whole page, for a message that is seldom read, each time that it does not find yet what it waits for. That takes the page
 * longer than much of what is waited for.
 */
async function toBeVisible(this: { readonly isNot: boolean }, target: Locator): Promise<{ pass: boolean; message: () => string }> {
  try {
    await target.waitFor({ state: this.isNot ? 'hidden' : 'visible', timeout: MOST_MS });
    return { pass: !this.isNot, message: () => '' };
  } catch (error) {
    return { pass: this.isNot, message: () => (error as Error).message };
  }
}

export const expect = plain.extend({ toBeVisible });
