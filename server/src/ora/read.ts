import path from 'node:path';
import type { Element } from '@xmldom/xmldom';
import sharp from 'sharp';
import { BexlenError, echoed, fitName, type ModeId } from '@bexlen/core';
import { readXml } from '@bexlen/core/formats/xml';
import { withZip, type OpenZip } from '@bexlen/render/files/zips';
import { checkSize } from '@bexlen/render/decode/limits';
import { modeOfOperator } from './modes';

/** A layer of an OpenRaster file: its picture, and where it lies on the canvas, in pixels. */
export interface OraLayer {
  readonly name: string;
  /** Where its picture was unpacked to, a PNG. */
  readonly file: string;
  readonly x: number;
  readonly y: number;
  readonly opacity: number;
  readonly visible: boolean;
  readonly mode: ModeId;
}
/** Layers under one opacity and mode. */
export interface OraGroup extends Pick<OraLayer, 'name' | 'opacity' | 'visible' | 'mode'> {
  readonly nodes: readonly OraNode[];
}
export type OraNode = OraLayer | OraGroup;

export interface Ora {
  readonly width: number;
  readonly height: number;
  /** The first one lies at the bottom. */
  readonly nodes: readonly OraNode[];
  /** A white picture of the canvas's size, where no layer at the bottom fills it. */
  readonly canvas?: string;
  /** What is not known here and was read as something else. */
  readonly notes: readonly string[];
}

const LIMITS = { entries: 600, entryBytes: 200e6, allBytes: 300e6 };
const MOST_XML = 1e6;
/** Layers of a file: a version takes no more, whatever a file brings. */
const MOST_LAYERS = 200;
const MOST_NESTING = 7;
const MOST_NAME = 60;

const wrong = (path: string, sentence: string): BexlenError =>
  new BexlenError('damaged-file', `${path}: ${sentence}`, 'Nothing was taken in. Write the file again from where it came from.');

/**
 * Reads an OpenRaster file (Baseline Intent 0.0.5) and unpacks the pictures of its layers into a folder. Sizes and layers are looked at before anything but the list of
 * layers is unpacked. Throws with the path in it of what is wrong.
 */
export const readOra = (file: string, into: string): Promise<Ora> =>
  withZip(file, LIMITS, async (zip) => {
    if (!isShort(zip, 'mimetype', 100) || (await zip.bytes('mimetype')).toString('latin1').trim() !== 'image/openraster')
      throw wrong('mimetype', 'It is not an OpenRaster file.');
    if (!zip.sizes.has('stack.xml')) throw wrong('stack.xml', 'It is missing.');
    if (!isShort(zip, 'stack.xml', MOST_XML)) throw wrong('stack.xml', `It is longer than ${MOST_XML / 1e6} MB.`);
    const { paths, ...ora } = layersIn((await zip.bytes('stack.xml')).toString('utf8'), zip.sizes, into);
    for (const [path, to] of paths) await zip.write(path, to);
    const canvas = path.join(into, 'canvas.png');
    return (await isFilled(ora)) ? ora : { ...ora, canvas: await writeCanvas(ora, canvas) };
  });

const isShort = ({ sizes }: OpenZip, name: string, most: number): boolean => (sizes.get(name) ?? Infinity) <= most;

/** Whether the lowest layer fills the canvas and lies on it plainly. */
async function isFilled({ nodes: [lowest], width, height }: Ora): Promise<boolean> {
  if (!lowest || !('file' in lowest)) return false;
  const { x, y, opacity, visible, mode } = lowest;
  if (x !== 0 || y !== 0 || opacity !== 1 || !visible || mode !== 'normal') return false;
  const head = await sharp(lowest.file, { limitInputPixels: false })
    .metadata()
    .catch(() => {
      throw wrong(lowest.name, 'It is not a picture that can be read.');
    });
  return head.width === width && head.height === height;
}

async function writeCanvas({ width, height }: Ora, to: string): Promise<string> {
  await sharp({ create: { width, height, channels: 3, background: '#ffffff' }, limitInputPixels: false })
    .png({ compressionLevel: 1 })
    .toFile(to);
  return to;
}

/** What the list of layers says, and where which picture is to be unpacked. */
function layersIn(xml: string, files: ReadonlyMap<string, number>, into: string): Ora & { readonly paths: ReadonlyMap<string, string> } {
  const image = rootOf(xml);
  const [width, height] = [whole(image, 'w'), whole(image, 'h')];
  if (!(width >= 1 && height >= 1)) throw wrong('stack.xml', 'The size of the picture is wrong.');
  checkSize('The picture', { width, height, channels: 4 }, 8);
  const paths = new Map<string, string>();
  let layers = 0;
  const notes = new Set<string>();
  const root = childrenOf(image).find(({ localName }) => localName === 'stack');
  if (!root) throw wrong('stack.xml', 'There is no stack of layers in it.');
  const common = (element: Element, at: string): Pick<OraLayer, 'name' | 'opacity' | 'visible' | 'mode'> => {
    const name = fitName(element.getAttribute('name') ?? '', MOST_NAME, 'Layer');
    const opacity = Number(element.getAttribute('opacity') ?? 1);
    if (!(opacity >= 0 && opacity <= 1)) throw wrong(at, 'An opacity lies between 0 and 1.');
    const operator = element.getAttribute('composite-op') ?? 'svg:src-over';
    const mode = modeOfOperator(operator);
    if (!mode) notes.add(`“${name}” is mixed by ${echoed(operator, 40)}, which is not known here; it lies over the others plainly.`);
    return { name, opacity, visible: element.getAttribute('visibility') !== 'hidden', mode: mode ?? 'normal' };
  };
  const walk = (stack: Element, at: string, depth: number): OraNode[] => {
    if (depth > MOST_NESTING) throw wrong(at, `Stacks are nested more than ${MOST_NESTING} deep.`);
    return childrenOf(stack)
      .map((element, i): OraNode | undefined => {
        const here = `${at}/${element.localName ?? ''}[${i + 1}]`;
        if (element.localName === 'stack') return { ...common(element, here), nodes: walk(element, here, depth + 1) };
        if (++layers > MOST_LAYERS) throw wrong(here, `It has more than ${MOST_LAYERS} layers.`);
        if (element.localName !== 'layer') {
          notes.add(`${echoed(element.localName ?? '', 40)} is not known here and left out.`);
          return undefined;
        }
        const source = element.getAttribute('src') ?? '';
        if (!files.has(source)) throw wrong(here, `Its picture ${echoed(source, 60)} is not in the file.`);
        const file = paths.get(source) ?? path.join(into, `layer-${paths.size}.png`);
        paths.set(source, file);
        return { ...common(element, here), file, x: whole(element, 'x', 0), y: whole(element, 'y', 0) };
      })
      .filter((node) => node !== undefined)
      .reverse();
  };
  const nodes = walk(root, 'stack.xml: image/stack', 1);
  return { width, height, nodes, notes: [...notes], paths };
}

function rootOf(text: string): Element {
  const read = readXml(text);
  if ('wrong' in read) throw wrong('stack.xml', read.wrong);
  if (read.root.localName !== 'image') throw wrong('stack.xml', 'It does not begin with an image.');
  return read.root;
}

const childrenOf = (element: Element): Element[] => [...element.childNodes].filter((node) => node.nodeType === 1) as Element[];

function whole(element: Element, name: string, otherwise = NaN): number {
  const text = element.getAttribute(name);
  const value = text === null ? otherwise : Number(text);
  if (!Number.isInteger(value) || Math.abs(value) > 1e6) throw wrong('stack.xml', `${name} of ${element.localName ?? ''} is a whole number.`);
  return value;
}
