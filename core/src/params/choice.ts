import { z } from 'zod';
import type { Common, ParamType } from './type';

/** One of a few named ways. */
export interface ChoiceParam extends Common {
  readonly type: 'choice';
  readonly options: readonly { readonly id: string; readonly label: string }[];
  readonly at: string;
  /** All of its ways are shown, however many they are; without it more than a few are left to the variants. */
  readonly listed?: true;
}

export const choiceType: ParamType<ChoiceParam> = {
  type: 'choice',
  schema: ({ options }) => z.enum(options.map(({ id }) => id)),
  range: ({ options }) => options.map(({ id }) => id).join(', '),
  stored: () => 'text',
  change: ({ label, options }, _before, after) => `${label.toLowerCase()} ${options.find(({ id }) => id === after)?.label.toLowerCase() ?? after}`,
  random: ({ options, at }, chance) => (options.length > 0 ? chance.of(options).id : at),
  between: ({ options, at }, share) => (share < 0.5 ? options[0]?.id : options.at(-1)?.id) ?? at,
  proofs: ({ options }) => options.map(({ id, label }) => ({ label, value: id })),
};

/** The first of the ways is the default. */
export const choice = (label: string, options: ChoiceParam['options'], section?: string): ChoiceParam => ({
  type: 'choice',
  label,
  options,
  at: options[0]?.id ?? '',
  ...(section && { section }),
});
/** One of more ways than stand side by side. */
export const listed = (label: string, options: ChoiceParam['options']): ChoiceParam => ({ ...choice(label, options), listed: true });
