import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { change, modeFamilies, modes, type Layer, type ModeId, type Stack } from '@bexlen/core';
import { SmallPicture } from '../controls/Picture';
import { inForce, useBench } from '../state/bench';
import { colour, radius, type } from '../theme/tokens';
import { blend } from '../edits/layers';
import { useSmalls } from '../engine/small';
import { say } from '../words';

const withMode = (stack: Stack, layer: string, blend: ModeId): Stack => change(stack, layer, (it) => ({ ...it, blend }));
const ordered = modeFamilies.flatMap((family) => modes.filter((mode) => mode.family === family.id));

/** All blend modes by what they do, each as the photo with it. */
export function Modes({ layer }: { layer: Layer }) {
  const history = useBench((state) => state.history);
  const pictures = useSmalls(history, (i) => ordered[i] && withMode(inForce(history), layer.id, ordered[i].id));
  return (
    <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.row}>
      <View role="radiogroup" aria-label={say.channel.blendMode} style={styles.row}>
        {modeFamilies.map((family) => (
          <View key={family.id} style={styles.family}>
            <Text style={type.small}>{family.label}</Text>
            <View style={styles.modes}>
              {ordered
                .filter((mode) => mode.family === family.id)
                .map((mode) => (
                  <Pressable
                    key={mode.id}
                    role="radio"
                    aria-checked={mode.id === layer.blend}
                    aria-label={`${mode.label}. ${mode.note}`}
                    onPress={() => blend(layer, mode.id)}
                    style={[styles.mode, mode.id === layer.blend && styles.chosen]}
                  >
                    <View style={styles.picture}>
                      <SmallPicture of={pictures} at={ordered.indexOf(mode)} />
                    </View>
                    <Text style={[type.small, styles.name, mode.id === layer.blend && { color: colour.text }]} numberOfLines={1}>
                      {mode.label}
                    </Text>
                  </Pressable>
                ))}
            </View>
          </View>
        ))}
      </View>
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 8 },
  family: { gap: 2 },
  modes: { flexDirection: 'row', gap: 4 },
  mode: { width: 62, borderRadius: radius.s, borderBottomWidth: 3, borderBottomColor: 'transparent', backgroundColor: colour.raised },
  chosen: { borderBottomColor: colour.signal },
  picture: { height: 40, backgroundColor: colour.well },
  name: { textAlign: 'center', paddingVertical: 2, fontSize: 12.5 },
});
