import { ScrollView, StyleSheet } from 'react-native';
import { find, type LayerParam } from '@bexlen/core';
import { Button } from '../controls/Button';
import { Recede } from '../controls/held';
import { goOwnWay, linkable } from '../edits/masks';
import { layerOf, valueOf } from '../edits/target';
import { useBench } from '../state/bench';
import { space, touch } from '../theme/tokens';
import type { EditorProps } from './ParamEditor';
import { say } from '../words';

/** The layer whose mask a part is the same as. */
export function LayerEditor({ target, name }: EditorProps<LayerParam>) {
  const { partId } = target;
  const layer = layerOf(target);
  const stack = useBench((state) => state.stack());
  const value = String(valueOf(target, name));
  const current = find(stack.layers, value);
  const part = layer.mask.parts.find(({ id }) => id === partId);
  const others = linkable(stack, layer);
  const all = current && !others.some(({ id }) => id === value) ? [current, ...others] : others;
  return (
    <Recede>
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.line}>
        {current && part && <Button label={say.params.ownCopy} onPress={() => goOwnWay(layer, part)} />}
        {all.map((other) => (
          <Button
            key={other.id}
            label={other.name}
            strong={other.id === value}
            onPress={() => target.keep({ [name]: other.id }, say.params.asName(other.name))}
          />
        ))}
      </ScrollView>
    </Recede>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingVertical: 4, minHeight: touch, flexWrap: 'wrap' },
});
