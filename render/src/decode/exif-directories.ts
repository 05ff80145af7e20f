/** Bytes of a value of each type of TIFF 6.0, section 2. */
const SIZES: Readonly<Record<number, number>> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8 };
/** Tags whose value is where another directory begins: EXIF's own, that of the place, that of interoperability (CIPA DC-008, 4.6.3). */
const LEADS = new Set([34665, 34853, 40965]);
/** Directories of a block and entries of one: more are in no camera's file. */
const MOST_DIRECTORIES = 8;
const MOST_ENTRIES = 1000;
const HEADER = 'Exif\0\0';

/**
 * Whether a block of EXIF holds what its directories claim: every count of values fits into the block, and its directories are few. Whoever reads such a block
 * goes through no more than there is.
 */
export function isSound(exif: Buffer): boolean {
  const block = exif.toString('latin1', 0, HEADER.length) === HEADER ? exif.subarray(HEADER.length) : exif;
  const order = block.toString('latin1', 0, 2);
  if (block.length < 8 || (order !== 'II' && order !== 'MM')) return false;
  const small = order === 'II';
  const short = (at: number): number => (small ? block.readUInt16LE(at) : block.readUInt16BE(at));
  const long = (at: number): number => (small ? block.readUInt32LE(at) : block.readUInt32BE(at));
  const waiting: { readonly place: number; readonly inChain: boolean }[] = [{ place: long(4), inChain: true }];
  const seen = new Set<number>();
  for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
    const { place: at, inChain } = next;
    if (at === 0) continue;
    if (seen.has(at) || seen.size >= MOST_DIRECTORIES || at + 2 > block.length) return false;
    seen.add(at);
    const entries = short(at);
    const end = at + 2 + 12 * entries;
    if (entries > MOST_ENTRIES || end > block.length) return false;
    for (let from = at + 2; from < end; from += 12) {
      const [tag, type, count] = [short(from), short(from + 2), long(from + 4)];
      const bytes = (SIZES[type] ?? 0) * count;
      if (bytes > 4 && long(from + 8) + bytes > block.length) return false;
      if (bytes > block.length || count > block.length) return false;
      if (LEADS.has(tag)) waiting.push({ place: long(from + 8), inChain: false });
    }
    // Behind a directory that another one leads to there may be anything.
    if (inChain && end + 4 <= block.length) waiting.push({ place: long(end), inChain: true });
  }
  return true;
}
