import { Pressable, StyleSheet, Text, View } from 'react-native';
import { change, kindOf, revisionOf, type KindLayer } from '@bexlen/core';
import { Button } from '../controls/Button';
import { Recede } from '../controls/held';
import { Picture } from '../controls/Picture';
import { useBench } from '../state/bench';
import { colour, radius, space, type } from '../theme/tokens';
import * as desk from '../edits/layers';
import { useSmallPictures } from '../engine/small';
import { say } from '../words';

/** A layer that was made by earlier work of its kind stays as it is; here the newer work is offered, with before and after. */
export function Newer({ layer }: { layer: KindLayer }) {
  const kind = kindOf(layer.kind);
  const newest = revisionOf(kind);
  const offered = (layer.revision ?? 1) < newest;
  const stack = useBench((state) => state.stack());
  const [before, after] = useSmallPictures(offered ? `newer ${layer.id} ${stack.layers.length}` : 'none', () =>
    offered ? [stack, change(stack, layer.id, (it) => (it.kind === 'group' ? it : { ...it, revision: newest }))] : [],
  );
  if (!offered) return null;
  const take = (): void => desk.takeNewer(layer);
  return (
    <Recede style={styles.newer}>
      <Text style={type.body}>{say.channel.thereIsANewerLabelChanges(kind.label, kind.changes ?? '')}</Text>
      <View style={styles.line}>
        <View style={styles.side}>
          <View style={styles.picture}>
            <Picture image={before} />
          </View>
          <Text style={[type.small, styles.name]}>{say.channel.earlier}</Text>
        </View>
        <Pressable role="button" aria-label={say.channel.useTheNewerLabel(kind.label)} onPress={take} style={styles.side}>
          <View style={styles.picture}>
            <Picture image={after} />
          </View>
          <Text style={[type.small, styles.name]}>{say.channel.newer}</Text>
        </Pressable>
        <Button label={say.channel.useTheNewerOne} onPress={take} />
      </View>
    </Recede>
  );
}

const styles = StyleSheet.create({
  newer: { paddingHorizontal: space.m, paddingBottom: 8, gap: 8 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  side: { width: 92, borderRadius: radius.m, overflow: 'hidden', backgroundColor: colour.raised },
  name: { paddingHorizontal: 6, paddingVertical: 5 },
  picture: { height: 62, backgroundColor: colour.well },
});
