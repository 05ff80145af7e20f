/** Writes the pages that follow from definitions: docs/kinds.md and docs/look.schema.json. */
import fs from 'node:fs';
import { kindsPage, lookJsonSchema } from '../core/src/looks/pages';

fs.writeFileSync('docs/kinds.md', kindsPage());
fs.writeFileSync('docs/look.schema.json', lookJsonSchema());
