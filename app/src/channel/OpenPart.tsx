import { StyleSheet, Text, View } from 'react-native';
import { joins, partKindOf, type Layer, type Part } from '@bexlen/core';
import Trash from 'lucide-react-native/icons/trash';
import { Button, Choice, IconButton } from '../controls/Button';
import { Recede } from '../controls/held';
import { Switch } from '../controls/Switch';
import { colour, space, touch, type } from '../theme/tokens';
import { joinTarget, partTarget } from '../edits/target';
import { ParamEditor, ParamEditors } from '../params/ParamEditor';
import { mask, part as edits } from '../edits/masks';
import { say, inSentence } from '../words';

const READS = [
  { id: 'photo', label: say.channel.thePhoto },
  { id: 'below', label: say.channel.whatIsBelow },
] as const;

/** The controls of one part: those of its kind, then how it joins. */
export function OpenPart({ layer, part }: { layer: Layer; part: Part }) {
  const kind = partKindOf(part.part);
  const { pick } = kind;
  const target = partTarget(layer, part);
  const at = layer.mask.parts.findIndex(({ id }) => id === part.id);
  const label = inSentence(kind.label);
  return (
    <View style={styles.open}>
      <Recede style={styles.line}>
        <Choice
          label={say.channel.howTheLabelJoins(label)}
          options={joins}
          value={part.join}
          onChoose={(join) => edits.set(layer, part, { join }, inSentence(joins.find(({ id }) => id === join)?.label ?? ''))}
        />
        <View style={styles.grow} />
        <Switch
          label={say.channel.nameOn(kind.label)}
          on={part.on}
          onToggle={() => edits.set(layer, part, { on: !part.on }, part.on ? 'off' : 'on')}
        />
        <IconButton icon={Trash} label={say.channel.removeName(label)} onPress={() => edits.remove(layer, part)} />
      </Recede>
      {pick && (
        <Recede style={styles.hint}>
          <Text style={type.small}>{say.channel.tapThePhotoToPickDraw(inSentence(kind.params[pick.drag]?.label ?? ''))}</Text>
        </Recede>
      )}
      {Object.entries(kind.params)
        .filter(([name]) => kind.handle === undefined || !PLACES.has(name))
        .map(([name, param]) => (
          <ParamEditor key={name} target={target} name={name} param={param} />
        ))}
      <ParamEditors target={joinTarget(layer, part)} />
      <Recede style={styles.line}>
        <Button
          label={part.inverted ? say.channel.partInverted : say.channel.invertPart}
          strong={part.inverted}
          onPress={() => edits.set(layer, part, { inverted: !part.inverted }, 'inverted')}
        />
        {at > 0 && (
          <Button
            label={say.channel.earlier}
            onPress={() => mask.keep(layer, { parts: moved(layer.mask.parts, at, at - 1) }, say.channel.labelEarlier(label))}
          />
        )}
        {kind.reads && part.part !== 'same-as' && (
          <Choice
            label={say.channel.whatTheLabelLooksAt(label)}
            options={READS}
            value={part.reads}
            onChoose={(reads) => edits.set(layer, part, { reads }, reads === 'photo' ? say.channel.looksAtThePhoto : say.channel.looksAtWhatIsBelow)}
          />
        )}
      </Recede>
    </View>
  );
}

/** Params that are set on the photo itself. */
const PLACES = new Set(['x', 'y']);

function moved(parts: readonly Part[], from: number, to: number): Part[] {
  const all = [...parts];
  all.splice(to, 0, ...all.splice(from, 1));
  return all;
}

const styles = StyleSheet.create({
  open: { backgroundColor: '#2a2a2a', paddingVertical: 6, marginBottom: 6, borderLeftWidth: 3, borderLeftColor: colour.tape },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingVertical: 4, minHeight: touch, flexWrap: 'wrap' },
  grow: { flex: 1 },
  hint: { paddingHorizontal: space.m, paddingVertical: 4 },
});
