import { filmPlaceOf } from '../geometry/shape';
import { layer, stackOf } from '../../test/kernels';
import { compile } from './compile';
import { ValueNumbers, type Step } from './program';
import type { Layer } from './schema';

const mixes = (...layers: Layer[]): (true | undefined)[] =>
  compile(stackOf(...layers), filmPlaceOf({ width: 600, height: 400 }), new ValueNumbers())
    .steps.filter((step): step is Extract<Step, { do: 'mix' }> => step.do === 'mix')
    .map(({ inside }) => inside);

const glow = (): Layer[] => [layer('tone', {}, { blend: 'screen' }), layer('blur', { radius: 0.02 }, { blend: 'multiply', strength: 0.6 })];

describe('what lies between black and white', () => {
  it('is known to stay there through blends, strengths and blurs of the photo', () => {
    expect(mixes(...glow())).toEqual([true, true]);
  });

  it('is not taken to stay there behind what may go beyond', () => {
    expect(mixes(layer('exposure', { stops: 2 }), ...glow())).not.toContain(true);
    expect(mixes(layer('tone', { contrast: 0.5 }, { blend: 'screen' }), ...glow())).not.toContain(true);
  });
});
