import { asShot, type NumberParam } from '@bexlen/core';
import { development } from '../edits/layers';
import { useBench } from '../state/bench';
import { PlainControl } from '../params/Control';

const faders = [
  { name: 'light', words: 'Light', param: { label: 'Light', unit: 'stops', min: -4, max: 4, step: 0.05, at: asShot.light } },
  { name: 'warmth', words: 'Warmth of the light', param: { label: 'Warmth', unit: 'percent', min: -1, max: 1, step: 0.01, at: asShot.warmth } },
  { name: 'tint', words: 'Tint of the light', param: { label: 'Tint', unit: 'percent', min: -1, max: 1, step: 0.01, at: asShot.tint } },
  {
    name: 'recovery',
    words: 'Highlights recovered',
    param: { label: 'Highlights', unit: 'percent', min: 0, max: 1, step: 0.01, at: asShot.recovery },
  },
] as const satisfies readonly { name: string; words: string; param: Omit<NumberParam, 'type'> }[];

/** How a raw file is developed: its light, the colour of the light that it was taken in, and how far highlights are brought back. */
export function Developing() {
  const chosen = useBench((state) => state.stack().development) ?? asShot;
  return faders.map(({ name, words, param }) => (
    <PlainControl
      key={name}
      id={`development-${name}`}
      label={param.label}
      param={{ type: 'number', ...param }}
      value={chosen[name]}
      onShow={(value) => development.show({ [name]: value })}
      onKeep={(value, figure) => development.keep({ [name]: value }, `${words} ${figure}`)}
    />
  ));
}
