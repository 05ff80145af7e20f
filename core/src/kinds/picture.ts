import { alphaOf, colourOf, pictureOf } from '../expressions/image';
import { converted } from '../expressions/colour';
import { both, quad } from '../expressions/coverage';
import { cornersOf, sidesOf, toPicture, type Placing } from '../picture/placing';
import { noResources } from '../resources';
import { asShot, developed } from './development';
import { defineKind } from './define';
import { angle, choice, length, number, photoFile, place, type Params, type Values } from '../params';

const pull = (label: string) => place({ label });
const pulls = {
  ax: pull('Left above, across'),
  ay: pull('Left above, down'),
  bx: pull('Right above, across'),
  by: pull('Right above, down'),
  cx: pull('Right below, across'),
  cy: pull('Right below, down'),
  dx: pull('Left below, across'),
  dy: pull('Left below, down'),
} as const satisfies Params;
const params = {
  photo: photoFile('Photo'),
  x: place({ label: 'Across' }),
  y: place({ label: 'Down' }),
  size: length({ label: 'Width', min: 0.01, max: 4, at: 1, middle: 1 }),
  aspect: number({ label: 'Height to width', min: 0.02, max: 50, at: 0.667 }),
  angle: angle({ label: 'Angle', min: -180, max: 180 }),
  mirrored: choice('Sides', [
    { id: 'no', label: 'As it is' },
    { id: 'yes', label: 'Mirrored' },
  ]),
  ...pulls,
};

/** Where a picture lies, by the params of its layer. */
export const placingOf = (values: Values<typeof params>): Placing => {
  const { x, y, size, aspect, angle: turn, mirrored, ax, ay, bx, by, cx, cy, dx, dy } = values;
  return {
    x,
    y,
    size,
    aspect,
    angle: turn,
    mirrored: mirrored === 'yes',
    pulls: [
      [ax, ay],
      [bx, by],
      [cx, cy],
      [dx, dy],
    ],
  };
};

/** Another photo over what is beneath, placed on the photo; layers inside it change only it. Where it ends, so does the layer. */
export const picture = defineKind({
  id: 'picture',
  family: 'picture',
  label: 'Picture',
  note: 'Another photo, laid over what is beneath.',
  space: 'encoded',
  params,
  byDefault: 'Asks for a photo.',
  holds: true,
  handle: { shape: 'sheet' },
  cover: (values, { map }) => {
    const corners = cornersOf(placingOf(values));
    return both(quad(sidesOf(map, corners)), alphaOf(pictureOf(values.photo, toPicture(map, corners))));
  },
  work: (_, values, { map, gamut = 'srgb', resources = noResources }) => {
    const own = colourOf(pictureOf(values.photo, toPicture(map, cornersOf(placingOf(values)))));
    const [its, headroom] = [resources.pictures.gamutOf(values.photo), resources.pictures.headroomOf(values.photo)];
    return converted(headroom === undefined ? own : developed(headroom, asShot, its, own), its, gamut);
  },
});
