import { changeOf, kindOf, longEdge, modeOf, type AnyValues, type GateSide, type Layer, type ModeId, type Params } from '@bexlen/core';

/** Sentences for the list of steps: `Glow: radius 34 px → 51 px`. */
export const words = {
  variant: (layer: Layer, label: string): string => `${layer.name}: ${label}`,
  newer: (layer: Layer): string => `${layer.name}: the newer ${layer.kind === 'group' ? 'group' : kindOf(layer.kind).label}`,
  add: (layer: Layer): string => `${layer.name} added`,
  remove: (layer: Layer): string => `${layer.name} removed`,
  rename: (layer: Layer, name: string): string => `${layer.name} is now ${name}`,
  onOff: (layer: Layer): string => `${layer.name} ${layer.on ? 'off' : 'on'}`,
  blend: (layer: Layer, mode: ModeId): string => `${layer.name}: ${modeOf(mode).label.toLowerCase()}`,
  reads: (layer: Layer, reads: Layer['reads']): string => `${layer.name} reads ${reads === 'photo' ? 'the photo' : 'what is below'}`,
  gate: (layer: Layer, side: GateSide): string => `${layer.name}: gate by ${side === 'own' ? 'own tone' : 'tone beneath'}`,
  move: (layer: Layer): string => `${layer.name} moved`,
  group: (layer: Layer, onto: Layer): string => `${layer.name} grouped with ${onto.name}`,
  ungroup: (layer: Layer): string => `${layer.name} taken apart`,
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
export const layersOf = ({ layers }: { layers: number }): string => (layers === 0 ? 'as it came' : layers === 1 ? '1 layer' : `${layers} layers`);
