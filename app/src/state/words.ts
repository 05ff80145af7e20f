import { changeOf, kindOf, longEdge, modeOf, type AnyValues, type GateSide, type Layer, type ModeId, type Params } from '@bexlen/core';
import { say, inSentence } from '../words';

/** Sentences for the list of steps: `Glow: radius 34 px → 51 px`. */
export const words = {
  variant: (layer: Layer, label: string): string => `${layer.name}: ${label}`,
  newer: (layer: Layer): string => say.state.nameTheNewerWhat(layer.name, layer.kind === 'group' ? say.state.group : kindOf(layer.kind).label),
  add: (layer: Layer): string => say.state.nameAdded(layer.name),
  remove: (layer: Layer): string => say.state.nameRemoved(layer.name),
  rename: (layer: Layer, name: string): string => say.state.nameIsNowName(layer.name, name),
  onOff: (layer: Layer): string => `${layer.name} ${layer.on ? say.state.off : say.state.on}`,
  blend: (layer: Layer, mode: ModeId): string => `${layer.name}: ${inSentence(modeOf(mode).label)}`,
  reads: (layer: Layer, reads: Layer['reads']): string =>
    say.state.nameReadsWhat(layer.name, reads === 'photo' ? say.state.thePhoto : say.state.whatIsBelow),
  gate: (layer: Layer, side: GateSide): string => say.state.nameGateByWhat(layer.name, side === 'own' ? say.state.ownTone : say.state.toneBeneath),
  move: (layer: Layer): string => say.state.nameMoved(layer.name),
  group: (layer: Layer, onto: Layer): string => say.state.nameGroupedWithName(layer.name, onto.name),
  ungroup: (layer: Layer): string => say.state.nameTakenApart(layer.name),
};

/** Describes the first value that differs from before; undefined where none does. @param edge long edge of the full-size photo in pixels. */
export function wordsOfChange(params: Params, before: AnyValues, after: AnyValues, edge: number): string | undefined {
  for (const [name, value] of Object.entries(after)) {
    const param = params[name];
    const was = before[name] ?? param?.at;
    if (param && was !== undefined && value !== was) return changeOf(param, was, value, edge);
  }
  return undefined;
}

export const familyOf = (layer: Layer) => (layer.kind === 'group' ? 'group' : kindOf(layer.kind).family);

/** Long edge of the full-size photo, in which lengths are shown. */
export const edgeOf = (photo: { width: number; height: number } | undefined): number => (photo ? longEdge(photo) : 1);

/** How many layers a version has. */
export const layersOf = ({ layers }: { layers: number }): string =>
  layers === 0 ? say.state.noLayers : layers === 1 ? say.state.layer : say.state.layersLayers(layers);
