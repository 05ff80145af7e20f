import { curveSchema, type Curve } from '../pixels/curve';
import { asItIs, type Common, type ParamType } from './type';

/** A tone curve. */
export interface CurveParam extends Common {
  readonly type: 'curve';
  readonly at: Curve;
}

/** A curve that lifts and lowers tones in turn: the far end for tests. */
const WAVES: Curve = {
  shape: 'smooth',
  nodes: [
    [0, 0.1],
    [0.3, 0.55],
    [0.6, 0.4],
    [1, 0.95],
  ],
};

export const curveType: ParamType<CurveParam> = {
  ...asItIs,
  type: 'curve',
  schema: () => curveSchema,
  range: () => 'a curve',
  stored: () => '{ shape, nodes }',
  change: ({ label }) => `curve ${label.toLowerCase()}`,
  random: (_param, chance) => ({
    shape: chance.of(['straight', 'smooth'] as const),
    nodes: [0, chance.from(0.2, 0.4), chance.from(0.5, 0.8), 1].map((x): [number, number] => [x, chance.from(0, 1)]),
  }),
  between: ({ at }, share) => (share === 0 ? at : WAVES),
};

/** A curve from black to white. */
export const straightCurve: Curve = {
  shape: 'smooth',
  nodes: [
    [0, 0],
    [1, 1],
  ],
};
export const toneCurve = (label: string, section?: string): CurveParam => ({ type: 'curve', label, at: straightCurve, ...(section && { section }) });
