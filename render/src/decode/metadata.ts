import fs from 'node:fs/promises';
import { DOMParser, XMLSerializer, type Element } from '@xmldom/xmldom';
import piexif from 'piexifjs';
import sharp from 'sharp';
import type { Policy } from '@bexlen/api';
import { cameraNotes } from './camera-notes';
import { isSound } from './exif-directories';

/** What a file says of itself beside its pixels, as it is written into another. */
export interface Metadata {
  /** A block of EXIF (CIPA DC-008), without the words that begin it in a JPEG. */
  readonly exif?: Buffer;
  readonly xmp?: Buffer;
  /** The segment of a JPEG that holds IPTC's records. */
  readonly iptc?: Buffer;
}

/** What was carried over, and a sentence for each part that was not since it is too long or contradicts itself. */
export interface Carried extends Metadata {
  readonly left: readonly string[];
}

/** How much of a part is read. EXIF in a JPEG has at most 64 KB; records of makers elsewhere can be longer. */
const MOST_BYTES = { exif: 1_000_000, xmp: 4_000_000, iptc: 4_000_000 };
/** Begins and ends of elements of XMP: a tree of many more takes a hundred times their bytes. */
const MOST_ELEMENTS = 50_000;
const NAMES = { exif: 'EXIF', xmp: 'XMP', iptc: 'IPTC' };

const ORIENTATION = 274;
const [WIDTH, HEIGHT] = [40962, 40963];
const EXIF_WORDS = 'Exif\0\0';

/** What is carried over of an original: all of it, all but where it was taken, or nothing. What cannot be read is left behind, and told of. */
export async function metadataOf(file: string, policy: Policy, size: { readonly width: number; readonly height: number }): Promise<Carried> {
  if (policy === 'strip') return { left: [] };
  const found = await blocksOf(file);
  const left: string[] = [];
  const part = (name: keyof Metadata, made: (block: Buffer) => Buffer | undefined): Metadata => {
    const block = found[name];
    if (!block) return {};
    const tooMuch = excessOf(name, block);
    const kept = tooMuch === undefined ? made(block) : undefined;
    if (kept) return { [name]: kept };
    const why = tooMuch ?? 'it cannot be read';
    left.push(`${NAMES[name]} of the original was left out: ${why}.`);
    return {};
  };
  return {
    ...part('exif', (exif) => exifFor(exif, policy, size)),
    ...part('xmp', (xmp) => xmpFor(xmp, policy)),
    ...(policy === 'noplace' && found.iptc && namesPlace(found.iptc) ? {} : part('iptc', (iptc) => iptc)),
    left,
  };
}

/** The blocks of a file as they are; of what lies as TIFF does, as raw files do, without any, what its directories say. */
async function blocksOf(file: string): Promise<Metadata> {
  const found = await sharp(file, { limitInputPixels: false })
    .metadata()
    .catch(() => undefined);
  const { exif, xmp, iptc } = found ?? {};
  const own = { ...(exif && { exif }), ...(xmp && { xmp }), ...(iptc && { iptc }) };
  return found && (exif || found.format !== 'tiff') ? own : { ...own, ...cameraNotes(await fs.readFile(file)) };
}

/** What of a part is too much to be read, in words. */
function excessOf(name: keyof Metadata, block: Buffer): string | undefined {
  if (block.length > MOST_BYTES[name]) return `it is longer than ${MOST_BYTES[name] / 1e6} MB`;
  if (name !== 'xmp') return undefined;
  let elements = 0;
  for (let at = block.indexOf('<'); at >= 0 && elements <= MOST_ELEMENTS; at = block.indexOf('<', at + 1)) elements++;
  return elements > MOST_ELEMENTS ? `it has more than ${MOST_ELEMENTS} parts` : undefined;
}

/** The date and time at which a photo was taken, as its camera says, in no time zone: `2024-05-01T12:30:00`. */
export function dateIn(exif: Buffer): string | undefined {
  const read = loaded(exif);
  const text = read && (read.own[DATE_TAKEN] ?? read.main[DATE]);
  const found = typeof text === 'string' ? /^(\d{4}):(\d\d):(\d\d) (\d\d):(\d\d):(\d\d)/.exec(text) : null;
  if (!found) return undefined;
  const [, year, month, day, hour, minute, second] = found;
  const taken = `${year}-${month}-${day}T${hour}:${minute}:${second}`;
  return Number.isNaN(Date.parse(`${taken}Z`)) ? undefined : taken;
}
const DATE_TAKEN = 36867;
const DATE = 306;

/** Tags of a block by directory, all of them there. */
type Directory = Record<number, unknown>;
interface Tags {
  readonly main: Directory;
  readonly own: Directory;
  readonly place: Directory;
  readonly others: Directory;
}

/** Its tags; undefined for a block that contradicts itself. */
function loaded(exif: Buffer): Tags | undefined {
  if (exif.length > MOST_BYTES.exif || !isSound(exif)) return undefined;
  const text = exif.toString('latin1');
  try {
    const block = piexif.load(text.startsWith(EXIF_WORDS) ? text : EXIF_WORDS + text);
    return { main: block['0th'] ?? {}, own: block.Exif ?? {}, place: block.GPS ?? {}, others: block.Interop ?? {} };
  } catch {
    // The library throws whatever comes of reading past the end of a broken block.
    return undefined;
  }
}

/** Upright, of its new size, without the small picture of the old one. */
function exifFor(exif: Buffer, policy: Policy, { width, height }: { width: number; height: number }): Buffer | undefined {
  const read = loaded(exif);
  if (!read) return undefined;
  const { main, own, place, others } = read;
  main[ORIENTATION] = 1;
  if (own[WIDTH] !== undefined) Object.assign(own, { [WIDTH]: width, [HEIGHT]: height });
  try {
    const text = piexif.dump({ '0th': main, Exif: own, GPS: policy === 'keep' ? place : {}, Interop: others });
    return Buffer.from(text.slice(EXIF_WORDS.length), 'latin1');
  } catch {
    // A value that does not have the type of its tag cannot be written again.
    return undefined;
  }
}

/** Properties of XMP that say where a photo was taken (Exif in XMP; IPTC Photo Metadata Standard), by their local names. */
const PLACES = /^(GPS.*|City|State|Country|CountryCode|Location|LocationCreated|LocationShown|Sublocation|ProvinceState|CountryName|WorldRegion)$/;

function xmpFor(xmp: Buffer, policy: Policy): Buffer | undefined {
  const text = xmp.toString('utf8');
  if (/<!DOCTYPE|<!ENTITY/i.test(text)) return undefined;
  try {
    const document = new DOMParser({ onError: () => undefined }).parseFromString(text.replace(/\0+$/, ''), 'text/xml');
    for (const element of [...document.getElementsByTagName('*')]) {
      for (const attribute of [...(element as Element).attributes])
        if (leaves(attribute.localName ?? attribute.name, policy)) (element as Element).removeAttributeNode(attribute);
      if (leaves(element.localName ?? '', policy)) element.parentNode?.removeChild(element);
    }
    return Buffer.from(new XMLSerializer().serializeToString(document));
  } catch {
    // It is no well-formed XML.
    return undefined;
  }
}
const leaves = (name: string, policy: Policy): boolean => name === 'Orientation' || (policy === 'noplace' && PLACES.test(name));

/** Datasets of IPTC's application record that say where (IIM 4.2): content location, city, sublocation, province, country. */
const PLACE_DATASETS = new Set([26, 27, 90, 92, 95, 100, 101]);
const [MARK, APPLICATION] = [0x1c, 2];

/** Whether records name a place; such records are left behind whole. */
function namesPlace(iptc: Buffer): boolean {
  for (let i = 0; i + 2 < iptc.length; i++)
    if (iptc[i] === MARK && iptc[i + 1] === APPLICATION && PLACE_DATASETS.has(iptc[i + 2] as number)) return true;
  return false;
}
