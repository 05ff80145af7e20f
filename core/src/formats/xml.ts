import { DOMParser, type Element } from '@xmldom/xmldom';
import { echoed } from '../refusals';

/** The root of a stranger's XML, or what is wrong with it in a sentence. Nothing that defines entities is read: they can be made to grow without end. */
export function readXml(text: string): { readonly root: Element } | { readonly wrong: string } {
  if (/<!DOCTYPE|<!ENTITY/i.test(text)) return { wrong: 'It defines entities, which are not read.' };
  const faults: string[] = [];
  try {
    const { documentElement } = new DOMParser({ onError: (_level, message) => void faults.push(message) }).parseFromString(text, 'text/xml');
    if (faults.length === 0 && documentElement) return { root: documentElement };
  } catch (error) {
    faults.push((error as Error).message);
  }
  return { wrong: `It is not XML: ${echoed(faults[0]?.split('\n')[0], 100)}` };
}
