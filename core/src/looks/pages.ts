import { z } from 'zod';
import { families, kindOf, kinds } from '../kinds';
import { rangeOf, stored } from '../params';
import { modes } from '../blend';
import { partKindOf, partKinds } from '../masks/parts';
import { lookSchema } from './look';

/** The schema of a look file, for editors and other programs (JSON Schema, draft 2020-12). */
export function lookJsonSchema(): string {
  const schema = z.toJSONSchema(lookSchema, { io: 'input', unrepresentable: 'any', reused: 'ref' });
  return `${JSON.stringify({ title: 'A look of Bexlen', ...schema }, null, 2)}\n`;
}

/** All kinds and blend modes as a page of Markdown, from their definitions. */
export function kindsPage(): string {
  const list = kinds.map(({ id }) => kindOf(id));
  const ofFamily = families.map(({ id, label }) => ({ label, kinds: list.filter((kind) => kind.family === id) })).filter((f) => f.kinds.length > 0);
  const page = ofFamily.flatMap(({ label, kinds: members }) => [
    `## ${label}`,
    '',
    ...members.flatMap((kind) => [
      `### ${kind.label}`,
      '',
      `\`${kind.id}\`. ${kind.note} By default: ${kind.byDefault === 'neutral' ? 'nothing changes.' : kind.byDefault} Works in ${SPACES[kind.space]}.`,
      '',
      '| parameter | in a look file | on the desk |',
      '| --- | --- | --- |',
      ...Object.entries(kind.params).map(([name, param]) => `| \`${name}\` | ${stored(param)} | ${rangeOf(param)} |`),
      '',
    ]),
  ]);
  const mixing = modes.map(({ id, label, note }) => `| \`${id}\` | ${label} | ${note} |`);
  return [
    '# Kinds of layers and blend modes',
    '',
    'Made from the definitions in `core/src/kinds` and `core/src/blend/modes`. Lengths are shown for a photo with a long edge of 6000 pixels.',
    '',
    ...page,
    '## Parts of masks',
    '',
    'A mask is a list of `parts`, each with its `id`, `on`, `join` (`add`, `take` or `within`), `inverted`, `amount`, `keep` (to edges), what it `reads` (`photo` or `below`) and its `params`; then `soften`, `density` and `inverted` of the whole. Places are from the middle of the photo, in shares of its long edge.',
    '',
    ...partKinds
      .map(({ id }) => partKindOf(id))
      .flatMap(({ id, label, note, params }) => [
        `### ${label}`,
        '',
        `\`${id}\`. ${note}`,
        '',
        '| parameter | in a look file | on the desk |',
        '| --- | --- | --- |',
        ...Object.entries(params).map(([name, param]) => `| \`${name}\` | ${stored(param)} | ${rangeOf(param)} |`),
        '',
      ]),
    '## Blend modes',
    '',
    '| id | name | what it does |',
    '| --- | --- | --- |',
    ...mixing,
    '',
  ].join('\n');
}

const SPACES = { encoded: 'encoded values', linear: 'linear light', oklab: 'OKLab' };
