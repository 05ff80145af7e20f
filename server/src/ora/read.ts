import type { Element } from '@xmldom/xmldom';
import { BexlenError, echoed, fitName, readXml, type ModeId } from '@bexlen/core';
import { readZip } from '../files/zips';
import { modeOfOperator } from './modes';

/** A layer of an OpenRaster file: its picture, and where it lies on the canvas, in pixels. */
export interface OraLayer {
  readonly name: string;
  readonly bytes: Buffer;
  readonly path: string;
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
  /** What is not known here and was read as something else. */
  readonly notes: readonly string[];
}

const LIMITS = { entries: 600, entryBytes: 200e6, allBytes: 300e6 };
const MOST_SIDE = 65_500;
const MOST_NESTING = 7;
const MOST_NAME = 60;

const wrong = (path: string, sentence: string): BexlenError =>
  new BexlenError('damaged-file', `${path}: ${sentence}`, 'Nothing was taken in. Write the file again from where it came from.');

/** Reads an OpenRaster file (Baseline Intent 0.0.5). Throws with the path in it of what is wrong. */
export async function readOra(file: string): Promise<Ora> {
  const files = await readZip(file, LIMITS);
  if (files.get('mimetype')?.toString('latin1').trim() !== 'image/openraster') throw wrong('mimetype', 'It is not an OpenRaster file.');
  const xml = files.get('stack.xml');
  if (!xml) throw wrong('stack.xml', 'It is missing.');
  const image = rootOf(xml.toString('utf8'));
  const [width, height] = [whole(image, 'w'), whole(image, 'h')];
  if (!(width >= 1 && height >= 1 && width <= MOST_SIDE && height <= MOST_SIDE)) throw wrong('stack.xml', 'The size of the picture is wrong.');
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
        if (element.localName !== 'layer') {
          notes.add(`${echoed(element.localName ?? '', 40)} is not known here and left out.`);
          return undefined;
        }
        const path = element.getAttribute('src') ?? '';
        const bytes = files.get(path);
        if (!bytes) throw wrong(here, `Its picture ${echoed(path, 60)} is not in the file.`);
        return { ...common(element, here), bytes, path, x: whole(element, 'x', 0), y: whole(element, 'y', 0) };
      })
      .filter((node) => node !== undefined)
      .reverse();
  };
  const nodes = walk(root, 'stack.xml: image/stack', 1);
  return { width, height, nodes, notes: [...notes] };
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
