import { BexlenError } from '../errors';
import { echoed, fitName } from '../refusals';
import type { Cube } from '../resources/cube';

export type { Cube };

const MOST_1D = 65536;
const MOST_3D = 65;
/** Characters of a table that is read: a lattice of 65 with twelve digits to a number. */
export const MOST_CUBE_TEXT = 16e6;
type Three = [number, number, number];

/**
 * Reads the text of a .cube file (Cube LUT Specification 1.0, 2013): one- and three-dimensional tables with their domain. Throws `bad-request` with
 * the line that is wrong.
 */
export function readCube(text: string): Cube {
  if (text.length > MOST_CUBE_TEXT) throw wrong(undefined, 'It is longer than 16 MB.');
  let [title, dimensions, size] = ['', 0, 0];
  let [least, most]: [Three, Three] = [
    [0, 0, 0],
    [1, 1, 1],
  ];
  const values: number[] = [];
  for (const [i, raw] of text.split(/\r\n|\r|\n/).entries()) {
    const line = raw.trim();
    if (line === '' || line.startsWith('#')) continue;
    const [word = '', ...rest] = line.split(/\s+/);
    const numbers = rest.map(Number);
    if (/^[-+.\d]/.test(word)) {
      const three = [Number(word), ...numbers];
      if (three.length !== 3 || !three.every(Number.isFinite)) throw wrong(i, 'An entry is three numbers.');
      if (dimensions === 0) throw wrong(i, 'The size of the table is not said before its entries.');
      if (values.length >= 3 * (dimensions === 1 ? size : size ** 3)) throw wrong(i, 'There are more entries than the size says.');
      values.push(...three);
    } else if (word === 'TITLE') title = fitName(line.slice(5).trim().replace(/^"|"$/g, ''), 120, '');
    else if (word === 'LUT_1D_SIZE' || word === 'LUT_3D_SIZE') {
      if (dimensions !== 0) throw wrong(i, 'The size is said twice.');
      dimensions = word === 'LUT_1D_SIZE' ? 1 : 3;
      size = numbers[0] ?? NaN;
      const limit = dimensions === 1 ? MOST_1D : MOST_3D;
      if (!Number.isInteger(size) || size < 2 || size > limit) throw wrong(i, `The size is a whole number from 2 to ${limit}.`);
    } else if (word === 'DOMAIN_MIN' || word === 'DOMAIN_MAX') {
      if (numbers.length !== 3 || !numbers.every(Number.isFinite)) throw wrong(i, 'A domain is three numbers.');
      if (word === 'DOMAIN_MIN') least = numbers as Three;
      else most = numbers as Three;
    } else throw wrong(i, `“${echoed(word, 40)}” is not known in a .cube file.`);
  }
  if (dimensions === 0) throw wrong(undefined, 'It has no LUT_1D_SIZE and no LUT_3D_SIZE.');
  const entries = dimensions === 1 ? size : size ** 3;
  if (values.length !== 3 * entries) throw wrong(undefined, `It should have ${entries} entries and has ${values.length / 3}.`);
  if (least.some((low, c) => low >= (most[c] as number))) throw wrong(undefined, 'The domain begins where it ends, or beyond.');
  return { title, dimensions: dimensions as 1 | 3, size, least, most, values: Float32Array.from(values) };
}

const wrong = (line: number | undefined, sentence: string): BexlenError =>
  new BexlenError(
    'bad-request',
    `This .cube file cannot be read${line === undefined ? '' : `, line ${line + 1}`}: ${sentence}`,
    'Choose another file, or mend it.',
  );

/** The text of a .cube file. */
export function writeCube({ title, dimensions, size, least, most, values }: Cube): string {
  const head = [
    ...(title ? [`TITLE "${title}"`] : []),
    `LUT_${dimensions}D_SIZE ${size}`,
    `DOMAIN_MIN ${least.join(' ')}`,
    `DOMAIN_MAX ${most.join(' ')}`,
  ];
  const rows = Array.from({ length: values.length / 3 }, (_, i) => [0, 1, 2].map((c) => (values[3 * i + c] as number).toFixed(6)).join(' '));
  return `${[...head, ...rows].join('\n')}\n`;
}
