import { ScrollView, StyleSheet, Text, View } from 'react-native';
import type { ChoiceParam } from '@bexlen/core';
import { Button, Choice } from '../controls/Button';
import { Recede } from '../controls/held';
import { valueOf } from '../edits/target';
import { space, touch, type } from '../theme/tokens';
import type { EditorProps } from './ParamEditor';
import { say } from '../words';

/** More options than this are chosen among the variants instead. */
const MOST_OPTIONS = 4;

/** The ways of a choice side by side; of a listed one in a row that can be drawn along. */
export function ChoiceEditor({ target, name, param }: EditorProps<ChoiceParam>) {
  const value = String(valueOf(target, name));
  const choose = (id: string): void => target.keep({ [name]: id });
  if (param.listed)
    return (
      <Recede>
        <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.line}>
          <Text style={type.label}>{param.label}</Text>
          {param.options.map(({ id, label }) => (
            <Button key={id} label={label} strong={id === value} onPress={() => choose(id)} />
          ))}
        </ScrollView>
      </Recede>
    );
  if (param.options.length > MOST_OPTIONS) return null;
  return (
    <Recede style={styles.line}>
      <Text style={type.label}>{param.label}</Text>
      <View style={styles.grow}>
        <Choice label={say.params.labelOfName(param.label, target.name)} options={param.options} value={value} onChoose={choose} />
      </View>
    </Recede>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingVertical: 4, minHeight: touch },
  grow: { flex: 1 },
});
