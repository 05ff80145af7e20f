import { filtered } from '../expressions/image';
import { defineKind } from './define';
import { angle, length, percent } from '../params';

/** Brushes of less than this change nothing that could be seen. */
const LEAST_PX = 0.4;
/** How far relief looks, in radii of the brush, and its strength at 100 %. */
const RELIEF_SPAN = 0.35;
const RELIEF = 0.5;

/** The picture as if painted: strokes along its own edges, even within, hard against each other. */
export const brushwork = defineKind({
  id: 'brushwork',
  family: 'finish',
  label: 'Brushwork',
  note: 'Painted: strokes flow along the picture’s own edges.',
  space: 'encoded',
  params: {
    size: length({ label: 'Brush', min: 0.0008, max: 0.01, at: 0.003, step: 0.0001, middle: 0.004 }),
    detail: percent({ label: 'Detail', at: 0.5 }),
    flow: percent({ label: 'Flow', at: 0.8 }),
    relief: percent({ label: 'Relief', at: 0.2 }),
    light: angle({ label: 'Light from', min: -180, max: 180, at: -45 }),
  },
  byDefault: 'Fine strokes along edges, a little relief.',
  variants: [
    { label: 'Fine', params: { size: 0.0016, detail: 0.7 } },
    { label: 'Broad', params: { size: 0.006, detail: 0.35, relief: 0.3 } },
    { label: 'Flat', params: { relief: 0, size: 0.004, detail: 0.6 } },
  ],
  work: (read, { size, detail, flow, relief, light }, { edge }) => {
    const radius = size * edge;
    if (radius < LEAST_PX) return read;
    const painted = filtered(read, 'painterly', [radius, flow, detail]);
    if (relief === 0) return painted;
    const way = (light * Math.PI) / 180;
    const span = Math.max(0.5, RELIEF_SPAN * radius);
    return filtered(painted, 'relief', [Math.sin(way) * span, -Math.cos(way) * span, RELIEF * relief]);
  },
});
