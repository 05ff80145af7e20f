import { percent, place } from '../../params';
import { defineFocus } from '../shape';

/** A place with a blur of its own. Between pins it goes over from one to the other. */
export const pin = defineFocus({
  id: 'pin',
  label: 'Pin',
  note: 'A place has a blur of its own.',
  params: {
    x: place({ label: 'Across' }),
    y: place({ label: 'Down' }),
    blur: percent({ label: 'Blur' }),
  },
  handle: { shape: 'point', x: 'x', y: 'y' },
});
