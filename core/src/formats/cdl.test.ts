import fc from 'fast-check';
import { floats } from '../../test/engine';
import { layer, stackOf } from '../../test/kernels';
import { correctionOf, correctionsOf, cutsBetween, gradeOf, plainCorrection, writeCc, writeCcc, type Correction } from './cdl';
import { readCdl } from './read-cdl';

const GIVEN = `<?xml version="1.0" encoding="UTF-8"?>
<ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.2">
  <ColorCorrection id="shot 1">
    <SOPNode><Slope>1.05 0.98 0.9</Slope><Offset>0.01 -0.02 0</Offset><Power>1.1 1 0.95</Power></SOPNode>
    <SatNode><Saturation>0.8</Saturation></SatNode>
  </ColorCorrection>
  <ColorCorrection id="shot 2"><SOPNode><Slope>2 2 2</Slope></SOPNode></ColorCorrection>
</ColorCorrectionCollection>`;

describe('lists of colour corrections', () => {
  it('are read as they are written by others', () => {
    expect(readCdl(GIVEN)).toEqual([
      { id: 'shot 1', slope: [1.05, 0.98, 0.9], offset: [0.01, -0.02, 0], power: [1.1, 1, 0.95], saturation: 0.8 },
      { id: 'shot 2', slope: [2, 2, 2], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 },
    ]);
  });

  it('come back as they were written', () => {
    const three = (min: number, max: number) =>
      fc.tuple(...[0, 1, 2].map(() => fc.double({ min, max, noNaN: true }))) as fc.Arbitrary<[number, number, number]>;
    const correction: fc.Arbitrary<Correction> = fc.record({
      id: fc.constantFrom('a', 'sky & sea', '“quoted” <b>'),
      slope: three(0, 4),
      offset: three(-1, 1),
      power: three(0.1, 4),
      saturation: fc.double({ min: 0, max: 4, noNaN: true }),
    });
    const near = (a: Correction, b: Correction): void => {
      expect(a.id).toBe(b.id);
      const flat = (c: Correction): number[] => [...c.slope, ...c.offset, ...c.power, c.saturation];
      flat(a).forEach((v, i) => expect(v).toBeCloseTo(flat(b)[i] as number, 5));
    };
    fc.assert(
      fc.property(fc.array(correction, { minLength: 1, maxLength: 4 }), (all) => {
        readCdl(writeCcc(all)).forEach((each, i) => near(each, all[i] as Correction));
        near(readCdl(writeCc(all[0] as Correction))[0] as Correction, all[0] as Correction);
      }),
      { numRuns: 50 },
    );
  });

  it('go into a Grade layer and out of it; what is too far is held and told', () => {
    const [first] = readCdl(GIVEN) as [Correction];
    const { params, held } = gradeOf(first);
    expect(held).toBe(false);
    expect(correctionOf({ ...layer('grade', params), name: 'shot 1' })).toEqual(first);
    expect(gradeOf({ ...first, slope: [9, 1, 1] })).toMatchObject({ held: true, params: { slopeRed: 4 } });
  });

  it('are those of live layers that have one', () => {
    const graded = layer('grade', { slopeRed: 1.2 }, { name: 'A' });
    const layers = [layer('tone'), graded, layer('grade'), { ...graded, on: false, id: 'x' }];
    expect(correctionsOf(layers).map(({ id }) => id)).toEqual(['A']);
  });

  it.each([
    ['', /not XML|no ColorCorrection/],
    ['<a', /not XML/],
    ['<a/>', /no ColorCorrection/],
    ['<!DOCTYPE a [<!ENTITY b "c">]><ColorCorrection/>', /entities/],
    ['<ColorCorrection><SOPNode><Slope>1 2</Slope></SOPNode></ColorCorrection>', /Slope is 3 numbers/],
    ['<ColorCorrection><SatNode><Saturation>x</Saturation></SatNode></ColorCorrection>', /Saturation is a number/],
    ['x'.repeat(2e6), /longer than 1 MB/],
  ])('are refused with a sentence where they are wrong', (text, why) => {
    expect(() => readCdl(text)).toThrow(why);
  });
});

describe('two corrections in a chain', () => {
  /** One correction by the formula of the list (ASC CDL 1.2), with or without the cut after saturation. */
  const corrected = (rgb: readonly number[], { slope, offset, power, saturation }: Correction, cut: boolean): number[] => {
    const held = (v: number): number => Math.min(1, Math.max(0, v));
    const moved = rgb.map((v, i) => held(v * (slope[i] as number) + (offset[i] as number)) ** (power[i] as number));
    const luma = 0.2126 * (moved[0] as number) + 0.7152 * (moved[1] as number) + 0.0722 * (moved[2] as number);
    return moved.map((v) => luma + saturation * (v - luma)).map((v) => (cut ? held(v) : v));
  };
  const first: Correction = { ...plainCorrection, id: 'a', slope: [1.3, 1, 0.9], power: [0.8, 1, 1.1], saturation: 1.8 };
  const second: Correction = { ...plainCorrection, id: 'b', slope: [0.6, 0.7, 0.8], offset: [0.05, 0, 0.02] };
  const rgb = [0.95, 0.5, 0.08];
  const made = async (chain: readonly Correction[]): Promise<number[]> => {
    const stack = stackOf(...chain.map((each) => layer('grade', gradeOf(each).params)));
    return [...(await floats(stack, { width: 1, height: 1, depth: 16, channels: 3 }, (i) => rgb[i] as number))].slice(0, 3);
  };

  it('are the formula without the cut between them, which is told where it matters', async () => {
    const [free, cut] = [false, true].map((way) => corrected(corrected(rgb, first, way), second, way)) as [number[], number[]];
    (await made([first, second])).forEach((v, i) => expect(v).toBeCloseTo(free[i] as number, 3));
    expect(Math.max(...free.map((v, i) => Math.abs(v - (cut[i] as number))))).toBeGreaterThan(0.02);
    expect(cutsBetween([first, second])).toBe(true);
  });

  it('are the formula as it stands where nothing is cut', async () => {
    const calm = { ...first, saturation: 0.9 };
    const truth = corrected(corrected(rgb, calm, true), second, true);
    (await made([calm, second])).forEach((v, i) => expect(v).toBeCloseTo(truth[i] as number, 3));
    expect(cutsBetween([calm, second])).toBe(false);
  });
});
