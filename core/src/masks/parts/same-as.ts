import { layer } from '../../params';
import { inverted, nothing } from '../../expressions/coverage';
import { definePart } from '../part';

/** Another layer's mask, as it is at any time: one changed, both move. */
export const sameAs = definePart({
  id: 'same-as',
  label: 'Same as',
  note: 'The mask of another layer, now and later.',
  reads: true,
  params: { layer: layer('Layer') },
  work: ({ layer: id }, place, _picture, maskOf) => maskOf(id) ?? inverted(nothing(place)),
});
