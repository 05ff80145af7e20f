import { z } from 'zod';
import { keptText } from '../refusals';
import { naming, type Common, type ParamType } from './type';

/** A file that is kept beside versions and named by them: a hash, a colon and the name that the file had. */
export interface FileParam extends Common {
  readonly type: 'file';
  /** The ending of the files that can be chosen. */
  readonly ending: string;
  readonly at: string;
}

const LONGEST_NAME = 200;
/** The schema of a name by which something is kept. */
export const keptName = (): z.ZodType<string> => keptText(z.string()).max(LONGEST_NAME, `A file name has at most ${LONGEST_NAME} characters.`);

/** The name that a kept file had where it came from. */
export const fileLabel = (name: string): string => name.slice(name.indexOf(':') + 1);

export const fileType: ParamType<FileParam> = {
  ...naming('file'),
  type: 'file',
  schema: keptName,
  range: ({ ending }) => `a ${ending} file`,
  stored: () => 'name of a file beside it',
  change: (_param, _before, after) => (after ? fileLabel(after) : 'no file'),
};

export const file = (label: string, ending: string): FileParam => ({ type: 'file', label, ending, at: '' });
