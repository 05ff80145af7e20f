import { affine, gaussian, matrix, sum } from '../expressions/image';
import { lumaOf } from '../pixels/gamut';
import { defineKind } from './define';
import { choice, length, number } from '../params';

/** What differs from its surroundings, on middle grey: to be seen, and to be mixed by a mode of contrast. */
export const highPass = defineKind({
  id: 'high-pass',
  family: 'focus',
  label: 'High pass',
  note: 'Detail alone on middle grey, to be mixed in soft light or overlay.',
  space: 'encoded',
  close: true,
  params: {
    radius: length({ label: 'Radius', min: 0.0002, max: 0.05, at: 0.0015, step: 0.0001, middle: 0.004 }),
    gain: number({ label: 'Gain', min: 0.1, max: 4, at: 1, step: 0.05, middle: 1 }),
    colour: choice('Colour', [
      { id: 'grey', label: 'Grey' },
      { id: 'own', label: 'Its own' },
    ]),
  },
  byDefault: 'Detail on middle grey.',
  work: (read, { radius, gain, colour }, { edge, gamut }) => {
    const luma = lumaOf(gamut);
    const seen = colour === 'grey' ? matrix(read, [luma, luma, luma]) : read;
    return affine(sum(seen, gaussian(seen, radius * edge), gain, -gain), 1, 0.5);
  },
});
