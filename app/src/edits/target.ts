import {
  focusShapeOf,
  kindOf,
  partKindOf,
  type AnyValues,
  type Focus,
  type KindLayer,
  type Layer,
  type Params,
  type ParamValue,
  type Part,
} from '@bexlen/core';
import { focus } from './focus';
import { values as ofLayers } from './layers';
import { part as parts } from './masks';

/** Something with parameters that hands work on: a layer, a part of its mask, or a band, oval or pin. */
export interface Target {
  /** The layer that it is or belongs to. */
  readonly layer: Layer;
  /** The part of the layer's mask, where it is one. */
  readonly partId?: string;
  /** What it is called in labels: `Tone`, `the oval`, `band 1`. */
  readonly name: string;
  readonly params: Params;
  readonly values: AnyValues;
  /** The id of the control of a parameter. */
  readonly idOf: (param: string) => string;
  /** Shows values while a control is held. */
  readonly show: (values: AnyValues) => void;
  /** Keeps values as a step, with words for the list of steps; without these, the words tell the one value that changed. */
  readonly keep: (values: AnyValues, words?: string) => void;
}

/** The value that a parameter of a target has. */
export const valueOf = ({ params, values }: Target, name: string): ParamValue => values[name] ?? (params[name]?.at as ParamValue);

export function layerTarget(layer: KindLayer): Target {
  const { params } = kindOf(layer.kind);
  return {
    layer,
    name: layer.name,
    params,
    values: layer.params,
    idOf: (param) => `${layer.id}-${param}`,
    show: (values) => ofLayers.show(layer, values),
    keep: (values, words) => ofLayers.keep(layer, values, words),
  };
}

export function partTarget(layer: Layer, part: Part): Target {
  const { params, label } = partKindOf(part.part);
  return {
    layer,
    partId: part.id,
    name: `the ${label.toLowerCase()}`,
    params,
    values: part.params,
    idOf: (param) => `part-${param}-${part.id}`,
    show: (values) => parts.show(layer.id, part.id, values),
    keep: (values, words) => parts.keep(layer.id, part.id, values, words),
  };
}

/** @param title what the shape is called among others of its sort: `Band 1`. */
export function focusTarget(layer: KindLayer, it: Focus, title: string): Target {
  const { params } = focusShapeOf(it.shape);
  type Plain = Readonly<Record<string, number | string>>;
  return {
    layer,
    name: title.toLowerCase(),
    params,
    values: it.params,
    idOf: (param) => `focus-${param}-${it.id}`,
    show: (values) => focus.show(layer.id, it.id, values as Plain),
    keep: (values, words) => focus.keep(layer.id, it.id, values as Plain, words),
  };
}
