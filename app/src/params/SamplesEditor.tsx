import { StyleSheet, Text } from 'react-native';
import type { Sample, SamplesParam } from '@bexlen/core';
import { Button } from '../controls/Button';
import { Recede } from '../controls/held';
import { valueOf } from '../edits/target';
import { space, touch, type } from '../theme/tokens';
import type { EditorProps } from './ParamEditor';
import { say } from '../words';

/** How many places were tapped; they are tapped on the photo. */
export function SamplesEditor({ target, name }: EditorProps<SamplesParam>) {
  const all = valueOf(target, name) as readonly Sample[];
  if (all.length === 0) return null;
  return (
    <Recede style={styles.line}>
      <Text style={type.small}>{all.length === 1 ? say.params.onePlace : say.params.countPlaces(all.length)}</Text>
      <Button label={say.params.forgetTheLast} onPress={() => target.keep({ [name]: all.slice(0, -1) }, say.params.onePlaceLess)} />
    </Recede>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingVertical: 4, minHeight: touch, flexWrap: 'wrap' },
});
