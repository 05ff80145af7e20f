import { parseArgs } from 'node:util';

/** The command was not understood. */
export class UseError extends Error {}

type Options = NonNullable<NonNullable<Parameters<typeof parseArgs>[0]>['options']>;
interface Parsed {
  /** Of each option the last one that was given. */
  readonly values: Readonly<Record<string, string | undefined>>;
  /** Of an option that may be given several times, all of them. */
  readonly all: (name: string) => readonly string[];
  readonly flag: (name: string) => boolean;
  readonly positionals: string[];
}

export function parsed(args: string[], options: Options): Parsed {
  try {
    const { values, positionals } = parseArgs({ args, allowPositionals: true, options });
    const given = values as Record<string, string | boolean | (string | boolean)[] | undefined>;
    const listOf = (name: string): readonly string[] => [given[name] ?? []].flat().map(String);
    return {
      values: Object.fromEntries(Object.keys(given).map((name) => [name, listOf(name).at(-1)])),
      all: listOf,
      flag: (name) => given[name] === true,
      positionals,
    };
  } catch (error) {
    throw new UseError((error as Error).message);
  }
}

export function whole(name: string, text: string, least: number, most: number): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < least || value > most) throw new UseError(`${name} is a whole number from ${least} to ${most}.`);
  return value;
}

/** One of some words. */
export function oneOf<T extends string>(name: string, text: string, words: readonly T[]): T {
  if (!words.includes(text as T)) throw new UseError(`${name} is ${words.slice(0, -1).join(', ')} or ${words.at(-1)}.`);
  return text as T;
}
