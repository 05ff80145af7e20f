import { memo, useEffect, useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { joins, MOST_PARTS, partKindOf, partKinds, type Layer, type Part, type PartId } from '@bexlen/core';
import Plus from 'lucide-react-native/icons/plus';
import { Button, Choice } from '../controls/Button';
import { Recede } from '../controls/held';
import { Switch } from '../controls/Switch';
import { ParamEditors } from '../params/ParamEditor';
import { useBench } from '../state/bench';
import { colour, radius, space, touch, type } from '../theme/tokens';
import { hasTaken, linkable, mask, part as edits, putMask, takeMask } from '../edits/masks';
import { MaskWatch, ShareTold } from '../onPhoto/MaskSeen';
import { maskTarget } from '../edits/target';
import { OpenPart } from './OpenPart';
import { useWhere, type MaskView } from '../state/byHand';
import { say, inSentence } from '../words';

const VIEWS: readonly { id: MaskView; label: string }[] = [
  { id: 'photo', label: say.channel.photo },
  { id: 'hatched', label: say.channel.hatching },
  { id: 'greys', label: say.channel.greys },
  { id: 'cut', label: say.channel.cutOut },
];

/** Where a layer lands: the parts of its mask in their order, the one that is open, and what is done to the whole. */
export const Mask = memo(function Mask({ layer }: { layer: Layer }) {
  const { part: openId, view, every } = useWhere(useShallow(({ part, view, every }) => ({ part, view, every })));
  const [adding, setAdding] = useState(false);
  const [, setCopied] = useState(0);
  useEffect(() => () => useWhere.setState({ part: undefined, view: 'photo', every: false, image: undefined, share: undefined }), [layer.id]);
  const { parts } = layer.mask;
  const open = parts.find(({ id }) => id === openId);
  return (
    <View style={styles.mask}>
      <MaskWatch />
      <Recede style={styles.chips}>
        {parts.map((it, i) => (
          <Chip key={it.id} part={it} first={i === 0} open={it.id === openId} />
        ))}
        {parts.length > 0 && parts.length < MOST_PARTS && <Button icon={Plus} label={say.channel.addPart} onPress={() => setAdding(!adding)} />}
        {parts.length === 0 && <Text style={type.label}>{say.channel.everywhereOnlyWithin}</Text>}
      </Recede>
      {parts.length > 0 && !adding && (
        <Recede style={styles.line}>
          <View style={styles.see}>
            <Text style={type.label}>{say.channel.see}</Text>
            <ShareTold />
          </View>
          <View style={styles.grow}>
            <Choice
              label={say.channel.howTheMaskOfNameIs(layer.name)}
              options={VIEWS}
              value={view}
              onChoose={(id) => useWhere.setState({ view: id })}
            />
          </View>
        </Recede>
      )}
      {(adding || parts.length === 0) && <Parts layer={layer} onDone={() => setAdding(false)} />}
      {open && !adding && <OpenPart key={open.id} layer={layer} part={open} />}
      {(parts.length > 0 || layer.mask.inverted) && <ParamEditors target={maskTarget(layer)} />}
      <Recede style={styles.line}>
        {parts.length > 0 && (
          <>
            <Switch
              label={say.channel.maskOfNameOn(layer.name)}
              on={layer.mask.on}
              onToggle={() => mask.keep(layer, { on: !layer.mask.on }, layer.mask.on ? 'off' : 'on')}
            />
            <Button
              label={layer.mask.inverted ? say.channel.inverted : say.channel.invert}
              strong={layer.mask.inverted}
              onPress={() => mask.keep(layer, { inverted: !layer.mask.inverted }, 'inverted')}
            />
            <Button label={say.channel.copy} onPress={() => (takeMask(layer), setCopied((n) => n + 1))} />
          </>
        )}
        {hasTaken() && <Button label={say.channel.putCopyHere} onPress={() => putMask(layer)} />}
        <Button label={say.channel.untouched} strong={every} onPress={() => useWhere.setState({ every: !every })} />
        {parts.length > 0 && <Button label={say.channel.takeOff} onPress={() => mask.reset(layer)} />}
      </Recede>
    </View>
  );
});

/** A part with the sign by which it joins what is before it. */
function Chip({ part, first, open }: { part: Part; first: boolean; open: boolean }) {
  const { label } = partKindOf(part.part);
  const { sign, label: joinLabel } = joins.find(({ id }) => id === part.join) ?? joins[0];
  const name = `${first && part.join === 'add' ? say.channel.only : joinLabel} ${inSentence(label)}${part.inverted ? say.channel.commaInverted : ''}`;
  return (
    <Pressable
      role="button"
      aria-label={say.channel.partName(name)}
      aria-expanded={open}
      onPress={() => useWhere.setState({ part: open ? undefined : part.id })}
      style={[styles.chip, open && styles.chipOpen, !part.on && styles.dim]}
    >
      <Text style={styles.sign}>{sign}</Text>
      <Text style={[type.tape, part.inverted && styles.inverted]}>{label}</Text>
    </Pressable>
  );
}

/** All parts that there are; a tap adds one and opens it. */
function Parts({ layer, onDone }: { layer: Layer; onDone: () => void }) {
  const stack = useBench((state) => state.stack());
  const links = linkable(stack, layer);
  const add = (id: PartId): void => {
    edits.add(layer, id, 'add', id === 'same-as' && links[0] ? { layer: links[0].id } : {});
    onDone();
  };
  return (
    <Recede style={styles.parts}>
      {partKinds
        .filter(({ id }) => id !== 'same-as' || links.length > 0)
        .map(({ id, label, note }) => (
          <Pressable key={id} role="button" aria-label={`${label}: ${note}`} onPress={() => add(id)} style={styles.kind}>
            <Text style={type.label}>{label}</Text>
          </Pressable>
        ))}
    </Recede>
  );
}

const styles = StyleSheet.create({
  mask: { paddingBottom: 8 },
  chips: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingBottom: 6 },
  chip: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 6,
    minHeight: touch,
    paddingRight: 12,
    backgroundColor: colour.tape,
    borderRadius: 2,
    borderBottomWidth: 3,
    borderBottomColor: colour.tape,
  },
  chipOpen: { borderBottomColor: colour.signal },
  dim: { opacity: 0.5 },
  sign: { ...type.figure, width: 26, textAlign: 'center', color: colour.ink, fontSize: 17 },
  inverted: { textDecorationLine: 'line-through' },
  parts: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, paddingHorizontal: space.m, paddingBottom: 8 },
  kind: {
    minHeight: touch,
    flexGrow: 1,
    paddingHorizontal: 14,
    alignItems: 'center',
    justifyContent: 'center',
    borderRadius: radius.m,
    backgroundColor: colour.raised,
  },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingVertical: 4, minHeight: touch, flexWrap: 'wrap' },
  grow: { flex: 1 },
  see: { width: 74, minHeight: 38 },
});
