import { memo, type ComponentType, type ReactNode } from 'react';
import type { Param } from '@bexlen/core';
import type { Target } from '../edits/target';
import { ChoiceEditor } from './ChoiceEditor';
import { CurveEditor } from './CurveEditor';
import { FileEditor } from './FileEditor';
import { FocusEditor } from './FocusEditor';
import { LayerEditor } from './LayerEditor';
import { NumberEditor } from './NumberEditor';
import { PhotoEditor } from './PhotoEditor';
import { SamplesEditor } from './SamplesEditor';
import { StrokesEditor } from './StrokesEditor';

export interface EditorProps<P extends Param = Param> {
  readonly target: Target;
  readonly name: string;
  readonly param: P;
  /** What stands beside a fader. */
  readonly beside?: ReactNode;
  /** It stands on a wheel, beside which it is a plain fader. */
  readonly wheeled?: boolean;
  /** Lays its values out as a test strip. */
  readonly onStrip?: (name: string) => void;
}

const editors: { readonly [T in Param['type']]: ComponentType<EditorProps<Extract<Param, { readonly type: T }>>> } = {
  number: NumberEditor,
  choice: ChoiceEditor,
  curve: CurveEditor,
  file: FileEditor,
  photo: PhotoEditor,
  strokes: StrokesEditor,
  samples: SamplesEditor,
  layer: LayerEditor,
  focus: FocusEditor,
};

/** The control of one parameter of whatever hands work on. */
export const ParamEditor = memo(function ParamEditor(props: EditorProps) {
  const Editor = editors[props.param.type] as ComponentType<EditorProps>;
  return <Editor {...props} />;
});

/** The controls of all parameters of a target. */
export const ParamEditors = ({ target }: { target: Target }) =>
  Object.entries(target.params).map(([name, param]) => <ParamEditor key={name} target={target} name={name} param={param} />);
