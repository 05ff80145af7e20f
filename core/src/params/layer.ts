import { z } from 'zod';
import { naming, type Common, type ParamType } from './type';

/** Another layer of the stack, by its id. */
export interface LayerParam extends Common {
  readonly type: 'layer';
  readonly at: string;
}

export const layerType: ParamType<LayerParam> = {
  ...naming('layer'),
  type: 'layer',
  schema: () => z.string().regex(/^[a-z0-9-]{0,40}$/, 'A layer is named by its id.'),
  range: () => 'another layer',
  stored: () => 'id of a layer',
  change: ({ label }) => label.toLowerCase(),
};

export const layer = (label: string): LayerParam => ({ type: 'layer', label, at: '' });
