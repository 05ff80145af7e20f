import { BexlenError } from '../errors';
import type { Size } from '../pixels/picture';
import { echoed } from '../refusals';

/** What a file name can be made of. */
export const nameWords = [
  { id: 'photo', label: 'Photo' },
  { id: 'version', label: 'Version' },
  { id: 'taken', label: 'Date taken' },
  { id: 'today', label: 'Today' },
  { id: 'width', label: 'Width' },
  { id: 'height', label: 'Height' },
  { id: 'number', label: 'Number' },
] as const;
export type NameWord = (typeof nameWords)[number]['id'];
export const usualName = '{photo} - {version}';
const LONGEST = 150;

/** Throws `bad-request` for a pattern with a word that is not known, or with none that tells files apart. */
export function checkName(pattern: string): void {
  for (const [, word = ''] of pattern.matchAll(/\{([^}]*)\}/g))
    if (!nameWords.some(({ id }) => id === word))
      throw new BexlenError(
        'bad-request',
        `“{${echoed(word, 30)}}” is no word for file names.`,
        `There are ${nameWords.map(({ id }) => `{${id}}`).join(', ')}.`,
      );
}

/** A text as a file name without its ending, as every file system takes it: what is not a letter, digit, space, dot, hyphen or underscore is a space. */
export function plainName(text: string, otherwise = 'photo'): string {
  const plain = text
    .replace(/[^\p{L}\p{N} ._-]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  return (
    [...plain]
      .slice(0, LONGEST)
      .join('')
      .replace(/^\.+|[. ]+$/g, '') || otherwise
  );
}

/** A file that is given a name. */
export interface Named {
  readonly photo: string;
  readonly version: string;
  /** When the photo was taken, as its camera says: its date begins with it. */
  readonly takenAt?: string | null | undefined;
  readonly today: Date;
  /** In pixels. */
  readonly size: Size;
  /** Among the files that are made together, from 1. */
  readonly number: number;
}

/** A file name without its ending, by a pattern. */
export function fileName(pattern: string, { photo, version, takenAt, today, size, number }: Named): string {
  const words: Readonly<Record<NameWord, string>> = {
    photo,
    version,
    taken: takenAt?.slice(0, 10) ?? '',
    today: today.toISOString().slice(0, 10),
    width: String(size.width),
    height: String(size.height),
    number: String(number).padStart(3, '0'),
  };
  return plainName(pattern.replace(/\{(\w+)\}/g, (_, word: string) => words[word as NameWord] ?? ''));
}
