import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { focusShapeOf, focusShapes, type AnyValues, type Focus, type FocusParam, type KindLayer, type Param } from '@bexlen/core';
import Plus from 'lucide-react-native/icons/plus';
import Trash from 'lucide-react-native/icons/trash';
import { Button, IconButton } from '../controls/Button';
import { Recede } from '../controls/held';
import { focusTarget, layerOf, valueOf, type Target } from '../edits/target';
import { ParamEditor, type EditorProps } from './ParamEditor';
import { useWhere } from '../state/byHand';
import { colour, space, touch, type } from '../theme/tokens';
import { chosenOf, focus as edits } from '../edits/focus';
import { say, inSentence } from '../words';

/** Params that are set on the photo itself. */
const PLACES = new Set(['x', 'y']);
const SIDES = new Set(['left', 'below', 'above']);

/** What is in focus: each band, oval and pin as a chip, the controls of the chosen one, and a plus for each. */
export function FocusEditor({ target, name, param }: EditorProps<FocusParam>) {
  const layer = layerOf(target) as KindLayer;
  const all = valueOf(target, name) as readonly Focus[];
  const chosen = chosenOf(
    all,
    useWhere((state) => state.focus),
  );
  const nth = (it: Focus): string => {
    const alike = all.filter(({ shape }) => shape === it.shape);
    return `${focusShapeOf(it.shape).label}${alike.length > 1 ? ` ${alike.indexOf(it) + 1}` : ''}`;
  };
  return (
    <View role="group" aria-label={param.label} style={styles.board}>
      <Recede>
        <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.line}>
          {all.map((it) => (
            <Button key={it.id} label={nth(it)} strong={it.id === chosen?.id} onPress={() => useWhere.setState({ focus: it.id })} />
          ))}
          {focusShapes.map(({ id, label }) => (
            <Button key={id} icon={Plus} label={label} says={say.params.addLabel(inSentence(label))} onPress={() => edits.add(layer.id, id)} />
          ))}
        </ScrollView>
      </Recede>
      {chosen && <Chosen key={chosen.id} layer={layer} it={chosen} title={nth(chosen)} />}
      {all.length === 0 && (
        <Recede style={styles.line}>
          <Text style={type.small}>{say.params.nothingIsInFocusAllIs}</Text>
        </Recede>
      )}
    </View>
  );
}

function Chosen({ layer, it, title }: { layer: KindLayer; it: Focus; title: string }) {
  const shape = focusShapeOf(it.shape);
  const own = focusTarget(layer, it, title);
  const target: Target = { ...own, keep: (values, words) => own.keep(apart(it, values), words) };
  const together = it.params['ends'] === 'together';
  const shown = Object.entries(shape.params as Record<string, Param>).filter(([name]) => !PLACES.has(name) && !(together && SIDES.has(name)));
  return (
    <View style={styles.chosen}>
      <Recede style={styles.line}>
        <Text style={[type.small, styles.grow]}>
          {it.shape === 'pin' ? say.params.tapThePhotoForAnotherPin : say.params.noteDragItOnThePhoto(shape.note)}
        </Text>
        <IconButton icon={Trash} label={say.params.removeTitle(inSentence(title))} onPress={() => edits.remove(layer.id, it.id)} />
      </Recede>
      {shown.map(([name, param]) => {
        const label = together && name === 'right' ? say.params.wayToBlur : param.label;
        return <ParamEditor key={name} target={target} name={name} param={{ ...param, label }} />;
      })}
    </View>
  );
}

/** Ways that part begin as long as they were together. */
function apart(it: Focus, values: AnyValues): AnyValues {
  const { right = 1 } = it.params;
  return values['ends'] === 'apart' ? { ...values, left: right, below: right, above: right } : values;
}

const styles = StyleSheet.create({
  board: { marginBottom: 6 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingVertical: 4, minHeight: touch },
  grow: { flex: 1 },
  chosen: { backgroundColor: '#2a2a2a', paddingVertical: 6, borderLeftWidth: 3, borderLeftColor: colour.tape },
});
