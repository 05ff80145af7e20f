import { de } from './de';

/** Languages, beside English, into which what the core says can be told. */
const catalogues = { de } as const;
export type ToldLanguage = 'en' | keyof typeof catalogues;

/** What stands for anything in a catalogue. */
const GAP = '{}';
const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

interface Pattern {
  readonly said: RegExp;
  readonly told: string;
}
const patterns = new Map<ToldLanguage, readonly Pattern[]>();

function patternsOf(language: keyof typeof catalogues): readonly Pattern[] {
  const known = patterns.get(language);
  if (known) return known;
  const made = Object.entries(catalogues[language])
    // What says more around its gaps is tried first.
    .filter(([said]) => said.includes(GAP))
    .sort(([a], [b]) => b.length - a.length)
    .map(([said, told]) => ({ said: new RegExp(`^${said.split(GAP).map(escaped).join('(.*?)')}$`, 's'), told }));
  patterns.set(language, made);
  return made;
}

/**
 * What a definition or a message says in English, in another language. What stands in the gaps of a message is told too, where the catalogue has it.
 * @returns the text as it is where the catalogue does not have it.
 */
export function toldIn(language: ToldLanguage, text: string): string {
  if (language === 'en') return text;
  const own: Readonly<Record<string, string>> = catalogues[language];
  const whole = own[text];
  if (whole !== undefined) return whole;
  for (const { said, told } of patternsOf(language)) {
    const gaps = said.exec(text)?.slice(1);
    if (!gaps) continue;
    return told.split(GAP).reduce((sum, part, i) => sum + (own[gaps[i - 1] ?? ''] ?? gaps[i - 1] ?? '') + part);
  }
  return text;
}

/** Whether a text is in a catalogue, word for word. */
export const isToldIn = (language: keyof typeof catalogues, text: string): boolean => text in catalogues[language];
