/** Writes the pages that follow from definitions: docs/kinds.md, docs/look.schema.json and docs/guide.md. */
import fs from 'node:fs';
import { ourLessons } from '../app/src/lessons/ours';
import { kindsPage, lookJsonSchema } from '../core/src/looks/pages';
import { guidePage } from './guide';

fs.writeFileSync('docs/kinds.md', kindsPage());
fs.writeFileSync('docs/look.schema.json', lookJsonSchema());
fs.writeFileSync('docs/guide.md', guidePage(ourLessons()));
