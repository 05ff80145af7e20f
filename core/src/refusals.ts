import { z } from 'zod';

/** Control characters, those that turn the direction of writing, and halves of surrogate pairs: nothing of it can be seen or trusted. */
const UNSEEN = /[\p{Cc}\p{Cs}\u061c\u200e\u200f\u2028\u2029\u202a-\u202e\u2066-\u2069]+/gu;
const MOST_ECHOED = 80;

/** Text from outside as it may stand in a sentence: on one line, without what cannot be seen, cut to 80 characters. */
export function echoed(text: unknown, most = MOST_ECHOED): string {
  const plain = [
    ...String(text)
      .slice(0, 4 * most)
      .replace(UNSEEN, ' ')
      .trim(),
  ];
  return plain.length > most ? `${plain.slice(0, most - 1).join('')}…` : plain.join('');
}

/** Text as a name may have it: without what cannot be seen, without space at its ends, cut to a length; `otherwise`, if nothing is left. */
export function fitName(text: string, most: number, otherwise: string): string {
  const plain = text.replace(UNSEEN, ' ').replace(/\s+/gu, ' ').trim();
  return [...plain].slice(0, most).join('').trim() || otherwise;
}

/** Whether text can be kept: no zero character, no half of a surrogate pair. */
const isText = (text: string): boolean => !/[\0\p{Cs}]/u.test(text);

/** A string that can be kept. */
export const keptText = (schema: z.ZodString): z.ZodString =>
  schema.refine(isText, 'It holds characters that cannot be kept. Write it without them.');

const WORDS: Record<string, string> = {
  number: 'a number',
  int: 'a whole number',
  string: 'text',
  boolean: 'true or false',
  array: 'a list',
  tuple: 'a list',
  object: 'a set of fields',
};
const list = (values: readonly unknown[]): string => echoed(values.map(String).join(', '));

/** What is wrong with a value, in a sentence of our own, where its schema has none. */
function sentence(issue: z.core.$ZodRawIssue): string {
  switch (issue.code) {
    case 'invalid_type':
      return `${issue.input === undefined ? 'Missing: must' : 'Must'} be ${WORDS[issue.expected] ?? 'something else'}.`;
    case 'too_small':
      return issue.origin === 'number' ? `Must be at least ${String(issue.minimum)}.` : 'Too short.';
    case 'too_big':
      return issue.origin === 'number' ? `Must be at most ${String(issue.maximum)}.` : 'Too long.';
    case 'invalid_value':
      return `Must be one of: ${list(issue.values)}.`;
    case 'unrecognized_keys':
      return `Unknown field “${echoed(issue.keys[0], 40)}”.`;
    case 'invalid_union':
      return 'This value isn’t allowed here.';
    case 'not_multiple_of':
      return 'Must be a whole number.';
    default:
      return 'This cannot be read.';
  }
}

z.config({ customError: (issue) => sentence(issue) });

/** The first fault that a schema found, with where it is: `layers.0.strength: Must be a number.` */
export function refusalOf({ issues: [issue] }: z.ZodError, whole: string): string {
  if (!issue) return `${whole} cannot be read.`;
  return `${echoed(issue.path.map(String).join('.')) || whole}: ${issue.message}`;
}
