import { affine, mix, type Image } from '../expressions/image';
import { dust as dustOn } from '../expressions/film';
import { defineKind } from './define';
import { choice, percent, seed } from '../params';

/** Cells of the finest lattice along the long edge of the film, at the least amount and the most. */
const CELLS = 26;

/** Specks and hairs that lay on the film when it was printed or scanned. They stay on it, whatever is cropped. */
export const dustScratches = defineKind({
  id: 'dust-scratches',
  family: 'film',
  label: 'Dust and scratches',
  note: 'Specks and hairs on the film.',
  space: 'encoded',
  params: {
    amount: percent({ label: 'Amount', at: 0.35 }),
    size: percent({ label: 'Size', at: 0.35 }),
    hairs: percent({ label: 'Hairs', at: 0.25 }),
    strength: percent({ label: 'How plain', at: 0.7 }),
    print: choice('They are', [
      { id: 'white', label: 'White' },
      { id: 'black', label: 'Black' },
      { id: 'mixed', label: 'Both' },
    ]),
    seed: seed(),
  },
  byDefault: 'Some white specks and a few hairs.',
  work: (read, { amount, size, hairs, strength, print, seed: own }, place) => {
    if (amount === 0 || strength === 0) return read;
    const laid = (under: Image, white: boolean, more: number, share: number): Image => {
      const colour = affine(under, 0, white ? 0.95 : 0.04);
      const coarse = dustOn(
        { cells: CELLS, density: 0.25 * amount * share, size: 0.02 + 0.1 * size, width: 0.012 + 0.02 * size, hairs, seed: own + more },
        place,
      );
      const fine = dustOn(
        { cells: 3 * CELLS, density: 0.3 * amount * share, size: 0.03 + 0.14 * size, width: 0.02, hairs: 0.05 * hairs, seed: own + more + 1 },
        place,
      );
      return mix('normal', mix('normal', under, colour, strength, fine), colour, strength, coarse);
    };
    if (print === 'mixed') return laid(laid(read, true, 0, 0.5), false, 50, 0.5);
    return laid(read, print === 'white', 0, 1);
  },
});
