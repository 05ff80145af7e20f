import ExifReader from 'exifreader';
import piexif from 'piexifjs';

/** Descriptions in the first directory of a file that say nothing of how its pixels lie (TIFF 6.0; CIPA DC-008): title, maker, model, program, date, artist, rights. */
const KEPT = new Set([270, 271, 272, 305, 306, 315, 33432]);
/** A maker's own notes mean something only where they lay in their file. */
const MAKER_NOTE = 37500;

interface Notes {
  readonly exif?: Buffer;
  readonly xmp?: Buffer;
}
type Directory = Record<number, unknown>;

/**
 * What the camera wrote of itself into a file whose own blocks cannot be had as they are, such as a raw file: as a block of EXIF and of XMP. What has another type than its
 * tag is to have is left out.
 */
export function cameraNotes(bytes: Buffer): Notes {
  let read: ExifReader.ExpandedTags;
  try {
    read = ExifReader.load(bytes, { expanded: true });
  } catch {
    // There are none, or in no form that is known.
    return {};
  }
  const main: Directory = {};
  const own: Directory = {};
  const place: Directory = {};
  for (const [name, tag] of Object.entries(read.exif ?? {}) as [string, { readonly id?: number; readonly value: unknown }][]) {
    const id = Number(tag.id);
    const group = name.startsWith('GPS') ? 'GPS' : KEPT.has(id) ? 'Image' : 'Exif';
    const type = piexif.TAGS[group][id]?.type;
    const value = type === undefined || id === MAKER_NOTE ? undefined : written(type, tag.value);
    if (value === undefined || !isWritable(group, id, value)) continue;
    ({ GPS: place, Image: main, Exif: own })[group][id] = value;
  }
  const found = [main, own, place].some((directory) => Object.keys(directory).length > 0);
  const exif = found ? Buffer.from(piexif.dump({ '0th': main, Exif: own, GPS: place }).slice('Exif\0\0'.length), 'latin1') : undefined;
  const xmp = (read.xmp as { readonly _raw?: string } | undefined)?._raw;
  return { ...(exif && { exif }), ...(xmp && { xmp: Buffer.from(xmp) }) };
}

/** A value as it is to be written for a type of TIFF 6.0. */
function written(type: string, value: unknown): unknown {
  const list = Array.isArray(value) ? (value as unknown[]) : [value];
  if (type === 'Ascii') return list.every((v) => typeof v === 'string') ? list.join('\0') : undefined;
  if (type === 'Undefined') return list.every((v) => typeof v === 'number') ? Buffer.from(list).toString('latin1') : undefined;
  return Array.isArray(value) && value.length === 1 ? list[0] : value;
}

const directoryOf = (name: 'GPS' | 'Image' | 'Exif'): '0th' | 'GPS' | 'Exif' => (name === 'Image' ? '0th' : name);
function isWritable(group: 'GPS' | 'Image' | 'Exif', id: number, value: unknown): boolean {
  try {
    piexif.dump({ [directoryOf(group)]: { [id]: value } });
    return true;
  } catch {
    return false;
  }
}
