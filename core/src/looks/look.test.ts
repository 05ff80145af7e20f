import { kinds } from '../kinds';
import { readStack } from '../stack/read';
import { readLook } from './look';

const look = (rest: object): string => JSON.stringify({ look: 3, name: 'Try', ...rest });

describe('a look file', () => {
  it('needs no more than kinds: the rest has defaults', () => {
    const layers = kinds.map(({ id }) => ({ kind: id }));
    const { look: read } = readLook(look({ layers: [...layers, { kind: 'group', layers }] }));
    expect(read?.stack.layers).toHaveLength(kinds.length + 1);
    expect(readStack(read?.stack)).toEqual(read?.stack);
  });

  it.each([
    ['{', '', /not JSON/],
    [look({ layers: [{ kind: 'sparkle' }] }), 'layers.0.kind', /no kind called “sparkle”/],
    [look({ layers: [{ kind: 'tone', params: { glitter: 1 } }] }), 'layers.0.params.glitter', /no such field/],
    [look({ layers: [{ kind: 'tone', params: { brightness: 7 } }] }), 'layers.0.params.brightness', /<=1|at most|1/],
    [look({ layers: [], drawer: 'x' }), 'drawer', /no such field/],
    [look({ layers: [], fit: [{ fact: 'moon', note: 'x' }] }), 'fit.0.fact', /foliage/],
    [look({ layers: [], cubes: { 'a.cube': '' } }), 'cubes.a.cube', /No layer names/],
    [look({ layers: [{ kind: 'cube', params: { file: 'a.cube' } }], cubes: { 'a.cube': 'LUT_3D_SIZE 9000' } }), 'cubes.a.cube', /9000|size|65/i],
    [look({ layers: [], geometry: { turn: 9 } }), 'geometry.turn', /./],
    [look({ layers: [{ kind: 'group', layers: [{ kind: 'blur', strength: -1 }] }] }), 'layers.0.layers.0.strength', /0/],
    [JSON.stringify({ look: 4, name: 'Later', layers: [] }), 'look', /3/],
    [look({ layers: [{ kind: 'blur', mask: { parts: [{ id: 'a', part: 'cloud' }] } }] }), 'layers.0.mask.parts.0.part', /no part of that name/],
    [look({ layers: [{ kind: 'blur', mask: { parts: [{ id: 'a', part: 'same-as', params: { layer: 'layer-1' } }] } }] }), 'layers', /in a circle/],
    [
      look({ layers: [{ kind: 'blur', mask: { parts: [{ id: 'a', part: 'brush', params: { strokes: '0'.repeat(32) } }] } }] }),
      'strokes',
      /is painted with strokes that are not in the file/,
    ],
    [look({ layers: [], name: '' }), 'name', /needs a name/],
    [look({ layers: Array.from({ length: 300 }, () => ({ kind: 'tone' })) }), 'layers', /at most 200/],
  ])('says what is wrong, and where: %s', (text, path, message) => {
    const [fault] = readLook(text).faults;
    expect(fault?.path).toBe(path);
    expect(fault?.message).toMatch(message);
  });

  it('names everything that is wrong at once', () => {
    const { faults } = readLook(
      look({
        layers: [
          { kind: 'tone', params: { a: 1 } },
          { kind: 'blur', on: 'yes' },
        ],
      }),
    );
    expect(faults.map(({ path }) => path)).toEqual(['layers.0.params.a', 'layers.1.on']);
  });
});
