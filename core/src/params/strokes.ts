import { z } from 'zod';
import { naming, type Common, type ParamType } from './type';

/** A painting, named by its last stroke; strokes are kept beside versions. */
export interface StrokesParam extends Common {
  readonly type: 'strokes';
  readonly at: string;
  /** Strokes add up to a map of light in stops, instead of covering. */
  readonly light?: true;
}

export const strokesType: ParamType<StrokesParam> = {
  ...naming('painting'),
  type: 'strokes',
  placed: true,
  schema: () => z.string().regex(/^([0-9a-f]{32}|live-\d+)?$/, 'A painting is named by 32 hexadecimal digits.'),
  range: () => 'what is painted',
  stored: () => 'name of the last stroke',
  change: ({ label }) => label.toLowerCase(),
};

export const strokes = (label: string): StrokesParam => ({ type: 'strokes', label, at: '' });
export const lights = (label: string): StrokesParam => ({ ...strokes(label), light: true });
