import { useEffect } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import type { NumberParam, StrokesParam } from '@bexlen/core';
import Brush from 'lucide-react-native/icons/brush';
import Move from 'lucide-react-native/icons/move';
import { Button, Choice } from '../controls/Button';
import { Recede } from '../controls/held';
import { Control } from './Control';
import type { EditorProps } from './ParamEditor';
import { space, touch, type } from '../theme/tokens';
import { layerOf } from '../edits/target';
import { setBrush, useWhere } from '../state/byHand';
import { say } from '../words';

const size: NumberParam = { type: 'number', label: say.params.size, unit: 'length', min: 0.001, max: 0.5, step: 0.001, at: 0.04, middle: 0.06 };
const softness: NumberParam = { type: 'number', label: say.params.softness, unit: 'percent', min: 0, max: 1, step: 0.01, at: 0.6 };
const flow: NumberParam = { type: 'number', label: say.params.flow, unit: 'percent', min: 0.01, max: 1, step: 0.01, at: 0.6 };
const step: NumberParam = { type: 'number', label: say.params.step, unit: 'stops', min: 0.05, max: 1, step: 0.05, at: 0.25 };

const GIVES = {
  mask: [
    { id: 'give', label: say.params.paint },
    { id: 'take', label: say.params.rubOut },
  ],
  light: [
    { id: 'give', label: say.params.dodge },
    { id: 'take', label: say.params.burn },
  ],
} as const;
const PRESSURES = [
  { id: 'none', label: say.params.nothing },
  { id: 'flow', label: say.params.flow },
  { id: 'size', label: say.params.size },
] as const;

/** The brush, while there is something that it paints on: it is in hand at once. */
export function StrokesEditor({ target, name, param }: EditorProps<StrokesParam>) {
  const { partId } = target;
  const layer = layerOf(target);
  const brush = useWhere((state) => state.brush);
  const sizing = useWhere((state) => state.sizing);
  const map = useWhere((state) => state.map);
  const inHand = useWhere((state) => state.canvas !== undefined);
  const layerId = layer.id;
  const light = param.light === true;
  useEffect(() => {
    useWhere.setState({ canvas: { layerId, partId, param: name, light } });
    // A step of half a stop at most is what a map of light begins with.
    if (light && useWhere.getState().brush.flow > 0.5) setBrush({ flow: step.at });
    return () => useWhere.setState({ canvas: undefined, sizing: false, at: undefined, map: false });
  }, [layerId, partId, name, light]);
  const fader = (id: string, of: NumberParam, name: 'size' | 'softness' | 'flow') => (
    <Control
      id={`brush-${id}`}
      label={of.label}
      layer={layer}
      param={of}
      value={brush[name]}
      onShow={(value) => setBrush({ [name]: value })}
      onKeep={(value) => setBrush({ [name]: value })}
    />
  );
  return (
    <View>
      <Recede style={styles.line}>
        <Choice
          label={light ? say.params.dodgeOrBurn : say.params.paintOrRubOut}
          options={GIVES[light ? 'light' : 'mask']}
          value={brush.erase ? 'take' : 'give'}
          onChoose={(id) => setBrush({ erase: id === 'take' })}
        />
        {light && <Button label={say.params.map} strong={map} onPress={() => useWhere.setState({ map: !map })} />}
        <View style={styles.grow} />
        <Button
          icon={Brush}
          label={inHand ? say.params.putItDown : say.params.takeTheBrush}
          strong={inHand}
          onPress={() => useWhere.setState({ canvas: inHand ? undefined : { layerId, partId, param: name, light }, at: undefined })}
        />
      </Recede>
      {fader('size', size, 'size')}
      {fader('softness', softness, 'softness')}
      {fader('flow', light ? step : flow, 'flow')}
      <Recede style={styles.line}>
        <Text style={type.label}>{say.params.penPressure}</Text>
        <Choice
          label={say.params.whatPenPressureChanges}
          options={PRESSURES}
          value={brush.pressure}
          onChoose={(pressure) => setBrush({ pressure })}
        />
        <View style={styles.grow} />
        <Button
          icon={Move}
          label={sizing ? say.params.sizeOnThePhotoDone : say.params.sizeOnThePhoto}
          strong={sizing}
          onPress={() => useWhere.setState({ sizing: !sizing })}
        />
      </Recede>
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, minHeight: touch, flexWrap: 'wrap' },
  grow: { flex: 1 },
});
