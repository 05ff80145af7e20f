import type { Element } from '@xmldom/xmldom';
import { BexlenError } from '../errors';
import { echoed } from '../refusals';
import { plainCorrection, type Correction, type Three } from './cdl';
import { readXml } from './xml';

const MOST_TEXT = 1e6;

/**
 * The corrections of a .cc, .ccc or .cdl file, in order; what one does not say has no effect. Throws `bad-request` with what is wrong.
 */
export function readCdl(text: string): Correction[] {
  if (text.length > MOST_TEXT) throw wrong('It is longer than 1 MB.');
  const read = readXml(text);
  if ('wrong' in read) throw wrong(read.wrong);
  const inside = [...read.root.getElementsByTagNameNS('*', CORRECTION)];
  const all = read.root.localName === CORRECTION ? [read.root] : inside;
  if (all.length === 0) throw wrong('There is no ColorCorrection in it.');
  return all.map((element, i) => {
    const sop = childrenOf(element, 'SOPNode')[0];
    const saturation = childrenOf(childrenOf(element, 'SatNode')[0] ?? childrenOf(element, 'SATNode')[0], 'Saturation')[0];
    return {
      id: echoed(element.getAttribute('id') ?? '') || `Correction ${i + 1}`,
      slope: three(sop, 'Slope', plainCorrection.slope),
      offset: three(sop, 'Offset', plainCorrection.offset),
      power: three(sop, 'Power', plainCorrection.power),
      saturation: saturation ? (numbersOf(saturation, 1)[0] as number) : 1,
    };
  });
}

const CORRECTION = 'ColorCorrection';
const childrenOf = (element: Element | undefined, name: string): Element[] => (element ? [...element.getElementsByTagNameNS('*', name)] : []);

function three(sop: Element | undefined, name: string, otherwise: Three): Three {
  const [element] = childrenOf(sop, name);
  return element ? (numbersOf(element, 3) as unknown as Three) : otherwise;
}

function numbersOf(element: Element, count: number): number[] {
  const numbers = (element.textContent ?? '').trim().split(/\s+/).map(Number);
  if (numbers.length !== count || !numbers.every(Number.isFinite))
    throw wrong(`${element.localName ?? ''} is ${count === 1 ? 'a number' : `${count} numbers`}.`);
  return numbers;
}

const wrong = (sentence: string): BexlenError =>
  new BexlenError('bad-request', `This list of colour corrections cannot be read: ${sentence}`, 'Choose another file, or mend it.');
