import { keptName } from './file';
import { naming, type Common, type ParamType } from './type';

/** Another photo, by its name on the shelf or beside a look. */
export interface PhotoParam extends Common {
  readonly type: 'photo';
  readonly at: string;
}

export const photoType: ParamType<PhotoParam> = {
  ...naming('photo'),
  type: 'photo',
  schema: keptName,
  range: () => 'a photo',
  stored: () => 'name of a photo',
  change: ({ label }) => label.toLowerCase(),
};

export const photoFile = (label: string): PhotoParam => ({ type: 'photo', label, at: '' });
