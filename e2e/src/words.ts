import { createRequire } from 'node:module';
import type * as German from '../../app/src/words/de';
import type * as English from '../../app/src/words/en';

const require = createRequire(import.meta.url);

/** What the page says in English and in German. */
export const { en } = require('../../app/src/words/en.ts') as typeof English;
export const { de } = require('../../app/src/words/de.ts') as typeof German;
