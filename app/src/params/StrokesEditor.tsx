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

const size: NumberParam = { type: 'number', label: 'Size', unit: 'length', min: 0.001, max: 0.5, step: 0.001, at: 0.04, middle: 0.06 };
const softness: NumberParam = { type: 'number', label: 'Softness', unit: 'percent', min: 0, max: 1, step: 0.01, at: 0.6 };
const flow: NumberParam = { type: 'number', label: 'Flow', unit: 'percent', min: 0.01, max: 1, step: 0.01, at: 0.6 };
const step: NumberParam = { type: 'number', label: 'Step', unit: 'stops', min: 0.05, max: 1, step: 0.05, at: 0.25 };

const GIVES = {
  mask: [
    { id: 'give', label: 'Paint' },
    { id: 'take', label: 'Rub out' },
  ],
  light: [
    { id: 'give', label: 'Dodge' },
    { id: 'take', label: 'Burn' },
  ],
} as const;
const PRESSURES = [
  { id: 'none', label: 'Nothing' },
  { id: 'flow', label: 'Flow' },
  { id: 'size', label: 'Size' },
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
          label={light ? 'Dodge or burn' : 'Paint or rub out'}
          options={GIVES[light ? 'light' : 'mask']}
          value={brush.erase ? 'take' : 'give'}
          onChoose={(id) => setBrush({ erase: id === 'take' })}
        />
        {light && <Button label="Map" strong={map} onPress={() => useWhere.setState({ map: !map })} />}
        <View style={styles.grow} />
        <Button
          icon={Brush}
          label={inHand ? 'Put it down' : 'Take the brush'}
          strong={inHand}
          onPress={() => useWhere.setState({ canvas: inHand ? undefined : { layerId, partId, param: name, light }, at: undefined })}
        />
      </Recede>
      {fader('size', size, 'size')}
      {fader('softness', softness, 'softness')}
      {fader('flow', light ? step : flow, 'flow')}
      <Recede style={styles.line}>
        <Text style={type.label}>Pen pressure</Text>
        <Choice label="What pen pressure changes" options={PRESSURES} value={brush.pressure} onChoose={(pressure) => setBrush({ pressure })} />
        <View style={styles.grow} />
        <Button
          icon={Move}
          label={sizing ? 'Size on the photo: done' : 'Size on the photo'}
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
