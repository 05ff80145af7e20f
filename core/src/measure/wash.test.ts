import { isWashed, washOf } from './wash';

const picture = (value: (i: number) => readonly number[]) => ({
  width: 20,
  height: 10,
  data: Uint8Array.from(Array.from({ length: 200 }, (_, i) => [...value(i), 255]).flat()),
});

describe('the watch over whites', () => {
  // A quarter is clean white, a quarter is bright but yellow, the rest is grey.
  const before = picture((i) => (i % 4 === 0 ? [250, 251, 250] : i % 4 === 1 ? [255, 250, 246] : [120, 120, 120]));
  it('counts what was bright and clean, and what it lost', () => {
    const wash = washOf(
      before,
      picture((i) => (i % 4 === 0 ? [200, 200, 200] : [0, 0, 0])),
    );
    expect(wash.share).toBeCloseTo(0.25, 9);
    // OKLab lightness of greys: the cube root of linear light.
    const light = (v: number): number => (((v / 255 + 0.055) / 1.055) ** 2.4) ** (1 / 3);
    expect(wash.loss).toBeCloseTo(light(250.7) - light(200), 2);
    expect(isWashed(wash)).toBe(true);
  });
  it('says nothing where whites stay, or where there are none', () => {
    expect(isWashed(washOf(before, before))).toBe(false);
    const grey = picture(() => [90, 90, 90]);
    expect(
      washOf(
        grey,
        picture(() => [0, 0, 0]),
      ),
    ).toEqual({ share: 0, loss: 0 });
  });
});
