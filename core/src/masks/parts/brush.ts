import { strokes } from '../../params';
import { painting } from '../../painting/table';
import { nothing } from '../../expressions/coverage';
import { definePart } from '../part';

/** Painted by hand. */
export const brush = definePart({
  id: 'brush',
  label: 'Brush',
  note: 'Painted by hand.',
  reads: false,
  params: { strokes: strokes('Strokes') },
  work: ({ strokes: name }, place) => painting(name, place, nothing(place)),
});
