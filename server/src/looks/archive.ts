import { folderOfLook, LONGEST_LOOK, lookFile, plainName, readLook, type Look, type LookFault } from '@bexlen/core';
import { freeNames, readZip, type Packed } from '@bexlen/render/files/zips';

export const MOST_LOOKS = 500;
const LIMITS = { entries: MOST_LOOKS, entryBytes: LONGEST_LOOK, allBytes: 64e6 };
const ENDING = 'json';

const textOf = (look: Look): string => `${JSON.stringify(lookFile(look), null, 2)}\n`;
const plain = (name: string): string => plainName(name, 'look').replaceAll('.', ' ');

/** A look as a file to be sent. */
export const fileOf = (look: Look): { readonly name: string; readonly text: string } => ({
  name: `${plain(look.name)}.${ENDING}`,
  text: textOf(look),
});

/** Looks as files of an archive, each in its folder. */
export function filesOf(looks: readonly Look[]): Packed[] {
  const free = freeNames();
  return looks.map((look) => ({ name: free(`${plain(folderOfLook(look))}/${plain(look.name)}`, ENDING), from: Buffer.from(textOf(look)) }));
}

/** Looks of a file of a stranger: one, or an archive of some. All that is wrong with any of them is told, with the path of each. */
export async function looksIn(bytes: Buffer): Promise<{ looks: Look[]; faults: LookFault[] }> {
  const isZip = bytes.subarray(0, 2).toString('latin1') === 'PK';
  if (!isZip) return join([['', bytes]]);
  const files = [...(await readZip(bytes, LIMITS))].filter(([name]) => name.endsWith(`.${ENDING}`) && !/(^|\/)[._]/.test(name));
  if (files.length === 0) return { looks: [], faults: [{ path: '', message: 'There is no look in this archive: its files end in .json.' }] };
  return join(files.map(([name, file]) => [`${name}: `, file]));
}

function join(files: readonly (readonly [string, Buffer])[]): { looks: Look[]; faults: LookFault[] } {
  const looks: Look[] = [];
  const faults: LookFault[] = [];
  for (const [before, bytes] of files) {
    const read = readLook(bytes.toString('utf8'));
    if (read.look) looks.push(read.look);
    else faults.push(...read.faults.slice(0, 20).map(({ path, message }) => ({ path: `${before}${path}`, message })));
  }
  return { looks, faults };
}
