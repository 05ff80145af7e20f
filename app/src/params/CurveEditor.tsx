import { StyleSheet, View } from 'react-native';
import { straightCurve, type Curve, type CurveParam } from '@bexlen/core';
import { Button, Choice } from '../controls/Button';
import { Graph } from '../controls/Graph';
import { Recede } from '../controls/held';
import { valueOf } from '../edits/target';
import { usePreview } from '../engine/shown';
import { space, touch } from '../theme/tokens';
import type { EditorProps } from './ParamEditor';
import { say, inSentence } from '../words';

const SHAPES = [
  { id: 'straight', label: say.params.straight },
  { id: 'smooth', label: say.params.smooth },
] as const;

/** A curve to be drawn, over the histogram of what the layer reads. */
export function CurveEditor({ target, name, param }: EditorProps<CurveParam>) {
  const curve = valueOf(target, name) as Curve;
  const tones = usePreview((state) => state.tones);
  const id = target.idOf(name);
  const keep = (next: Curve): void => target.keep({ [name]: next });
  return (
    <View style={styles.curve}>
      <Recede mine={(held) => held === id}>
        <Graph
          id={id}
          label={say.params.curveLabelOfName(inSentence(param.label), target.name)}
          says={([x, y]) => say.params.xBecomesY(Math.round(x * 255), Math.round(y * 255))}
          tall
          curve={curve}
          tones={tones?.beneath}
          onShow={(next) => target.show({ [name]: next })}
          onKeep={keep}
        />
      </Recede>
      <Recede style={styles.line}>
        <View style={styles.grow}>
          <Choice
            label={say.params.shapeOfCurveLabel(inSentence(param.label))}
            options={SHAPES}
            value={curve.shape}
            onChoose={(shape) => keep({ ...curve, shape })}
          />
        </View>
        <Button label={say.params.straighten} onPress={() => keep({ ...straightCurve, shape: curve.shape })} />
      </Recede>
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, minHeight: touch },
  grow: { flex: 1 },
  curve: { gap: 6, paddingHorizontal: 0 },
});
