import { noResources, type Cube } from '../resources';
import { lattice, ramps, type Table } from '../expressions/image';
import { converted } from '../expressions/colour';
import { defineKind } from './define';
import { file } from '../params';

/** A table of the cube for the kernels: size, then where the domain begins and how many entries go to 1, four floats each, then the entries with a spare float. */
function tableOf({ size, least, most, values }: Cube): Float32Array {
  const scale = least.map((low, c) => (size - 1) / ((most[c] as number) - low));
  const entries = Array.from({ length: values.length / 3 }, (_, i) => [...values.subarray(3 * i, 3 * i + 3), 0]).flat();
  return Float32Array.from([size, size - 1, 0, 0, ...least, 0, ...scale, 0, ...entries]);
}

/** A colour table from a .cube file, on encoded values; three-dimensional ones by tetrahedral interpolation. */
export const cube = defineKind({
  id: 'cube',
  family: 'colour',
  label: 'Cube',
  note: 'A colour table from a .cube file.',
  space: 'encoded',
  params: { file: file('Table', '.cube') },
  byDefault: 'neutral',
  work: (read, { file: name }, { resources = noResources, gamut = 'srgb' }) => {
    if (name === '') return read;
    const found = resources.cube(name);
    const table: Table = { id: `cube ${name}`, make: () => tableOf(found) };
    // A table is made for the primaries of sRGB, and is read in them.
    const plain = converted(read, gamut, 'srgb');
    return converted(found.dimensions === 1 ? ramps(plain, table) : lattice(plain, table), 'srgb', gamut);
  },
});
