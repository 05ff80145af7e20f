import { fileFormats, grounds, pages, policies, sharpenings } from '@bexlen/api';
import { localise, toldIn, type Look } from '@bexlen/core';
import { de } from './de';
import { en, type Words } from './en';

const KEY = 'bexlen-language';

/** Languages that the interface speaks, by their names in themselves. */
export const languages = [
  { id: 'en', label: 'English' },
  { id: 'de', label: 'Deutsch' },
] as const;
export type Language = (typeof languages)[number]['id'];
const catalogues: Record<Language, Words> = { en, de };

const known = (id: string | null | undefined): Language | undefined => languages.find((it) => it.id === id?.slice(0, 2).toLowerCase())?.id;

/** What was chosen on this device; else the first of the browser's languages that there is a catalogue for; else English. */
function chosen(): Language {
  let kept: string | null | undefined;
  try {
    kept = globalThis.localStorage?.getItem(KEY);
  } catch {
    // Without storage the browser's language holds.
  }
  return known(kept) ?? (globalThis.navigator?.languages ?? []).map(known).find((it) => it !== undefined) ?? 'en';
}

/** The language of this page. It is another one after the page was loaded anew. */
export const language: Language = chosen();
/** The language as the browser's region writes its dates. */
export const locale: string = (globalThis.navigator?.languages ?? []).find((it) => known(it) === language) ?? language;
/** What the interface says, in the language of this page. */
export const say: Words = catalogues[language];
localise(language, [fileFormats, grounds, pages, policies, sharpenings]);

/** What a definition of the core, a look of ours or the server says, in the language of this page. */
export const told = (text: string): string => toldIn(language, text);
/** A look of ours with its note and its sentences in the language of this page; its name stays. One’s own is in the words of who made it. */
export const toldLook = (look: Look): Look => ({
  ...look,
  ...(look.note !== undefined && { note: told(look.note) }),
  ...(look.says && { says: look.says.map(told) }),
  fit: look.fit.map((rule) => ({ ...rule, note: told(rule.note) })),
});
/** A label within a sentence: German writes nouns with capitals wherever they stand. */
export const inSentence = (label: string): string => (language === 'de' ? label : label.toLowerCase());

/** A number with so many digits after its sign, as the language writes it. */
export const decimal = (value: number, digits: number): string =>
  value.toLocaleString(language, { minimumFractionDigits: digits, maximumFractionDigits: digits, useGrouping: false });

/** Chooses a language for this device and loads the page anew in it. */
export function speak(to: Language): void {
  try {
    localStorage.setItem(KEY, to);
  } catch {
    return;
  }
  location.reload();
}
