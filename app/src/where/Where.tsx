import { useEffect, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import {
  find,
  joins,
  MOST_PARTS,
  MOST_SOFTENING,
  partKindOf,
  partKinds,
  type Layer,
  type NumberParam,
  type Param,
  type Part,
  type PartId,
  type Sample,
} from '@bexlen/core';
import Plus from 'lucide-react-native/icons/plus';
import Trash from 'lucide-react-native/icons/trash';
import { Button, Choice, IconButton } from '../controls/Button';
import { Recede } from '../controls/held';
import { Switch } from '../controls/Switch';
import { Control } from '../desk/Control';
import { useBench } from '../state/bench';
import { colour, radius, space, touch, type } from '../theme/tokens';
import { BrushBoard } from './BrushBoard';
import { goOwnWay, hasTaken, linkable, mask, part as edits, putMask, takeMask } from './edits';
import { ShareTold, useMaskSeen } from './MaskSeen';
import { useWhere, type MaskView } from './state';

const VIEWS: readonly { id: MaskView; label: string }[] = [
  { id: 'photo', label: 'Photo' },
  { id: 'hatched', label: 'Hatching' },
  { id: 'greys', label: 'Greys' },
  { id: 'cut', label: 'Cut-out' },
];
const READS = [
  { id: 'photo', label: 'The photo' },
  { id: 'below', label: 'What is below' },
] as const;
const percentParam = (label: string, at: number): NumberParam => ({ type: 'number', label, unit: 'percent', min: 0, max: 1, step: 0.01, at });
const AMOUNT = percentParam('Amount', 1);
const KEEP = percentParam('Keep to edges', 0);
const DENSITY = percentParam('Density', 1);
const SOFTEN: NumberParam = { type: 'number', label: 'Softening', unit: 'length', min: 0, max: MOST_SOFTENING, step: 0.0005, at: 0, middle: 0.02 };

/** Where a layer lands: the parts of its mask in their order, the one that is open, and what is done to the whole. */
export function Mask({ layer }: { layer: Layer }) {
  const { part: openId, view, every } = useWhere();
  const [adding, setAdding] = useState(false);
  const [, setCopied] = useState(0);
  useMaskSeen();
  useEffect(() => () => useWhere.setState({ part: undefined, view: 'photo', every: false, image: undefined, share: undefined }), [layer.id]);
  const { parts } = layer.mask;
  const open = parts.find(({ id }) => id === openId);
  return (
    <View style={styles.mask}>
      <Recede style={styles.chips}>
        {parts.map((it, i) => (
          <Chip key={it.id} part={it} first={i === 0} open={it.id === openId} />
        ))}
        {parts.length > 0 && parts.length < MOST_PARTS && <Button icon={Plus} label="Add part" onPress={() => setAdding(!adding)} />}
        {parts.length === 0 && <Text style={type.label}>Everywhere. Only within:</Text>}
      </Recede>
      {parts.length > 0 && !adding && (
        <Recede style={styles.line}>
          <View style={styles.see}>
            <Text style={type.label}>See</Text>
            <ShareTold />
          </View>
          <View style={styles.grow}>
            <Choice label={`How the mask of ${layer.name} is seen`} options={VIEWS} value={view} onChoose={(id) => useWhere.setState({ view: id })} />
          </View>
        </Recede>
      )}
      {(adding || parts.length === 0) && <Parts layer={layer} onDone={() => setAdding(false)} />}
      {open && !adding && <OpenPart key={open.id} layer={layer} part={open} />}
      {(parts.length > 0 || layer.mask.inverted) && (
        <>
          <Control
            id={`mask-soften-${layer.id}`}
            label="Softening"
            layer={layer}
            param={SOFTEN}
            value={layer.mask.soften}
            onShow={(soften) => mask.show(layer, { soften })}
            onKeep={(soften) => mask.keep(layer, { soften }, 'softening')}
          />
          <Control
            id={`mask-density-${layer.id}`}
            label="Density"
            layer={layer}
            param={DENSITY}
            value={layer.mask.density}
            onShow={(density) => mask.show(layer, { density })}
            onKeep={(density) => mask.keep(layer, { density }, `density ${Math.round(density * 100)} %`)}
          />
        </>
      )}
      <Recede style={styles.line}>
        {parts.length > 0 && (
          <>
            <Switch
              label={`Mask of ${layer.name} on`}
              on={layer.mask.on}
              onToggle={() => mask.keep(layer, { on: !layer.mask.on }, layer.mask.on ? 'off' : 'on')}
            />
            <Button
              label={layer.mask.inverted ? 'Inverted' : 'Invert'}
              strong={layer.mask.inverted}
              onPress={() => mask.keep(layer, { inverted: !layer.mask.inverted }, 'inverted')}
            />
            <Button label="Copy" onPress={() => (takeMask(layer), setCopied((n) => n + 1))} />
          </>
        )}
        {hasTaken() && <Button label="Put copy here" onPress={() => putMask(layer)} />}
        <Button label="Untouched" strong={every} onPress={() => useWhere.setState({ every: !every })} />
        {parts.length > 0 && <Button label="Take off" onPress={() => mask.reset(layer)} />}
      </Recede>
    </View>
  );
}

/** A part with the sign by which it joins what is before it. */
function Chip({ part, first, open }: { part: Part; first: boolean; open: boolean }) {
  const { label } = partKindOf(part.part);
  const { sign, label: joinLabel } = joins.find(({ id }) => id === part.join) ?? joins[0];
  const name = `${first && part.join === 'add' ? 'Only' : joinLabel} ${label.toLowerCase()}${part.inverted ? ', inverted' : ''}`;
  return (
    <Pressable
      role="button"
      aria-label={`Part: ${name}`}
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

/** The controls of one part: those of its kind, then how it joins. */
function OpenPart({ layer, part }: { layer: Layer; part: Part }) {
  const kind = partKindOf(part.part);
  const { pick } = kind;
  const at = layer.mask.parts.findIndex(({ id }) => id === part.id);
  const label = kind.label.toLowerCase();
  return (
    <View style={styles.open}>
      <Recede style={styles.line}>
        <Choice
          label={`How the ${label} joins`}
          options={joins}
          value={part.join}
          onChoose={(join) => edits.set(layer, part, { join }, joins.find(({ id }) => id === join)?.label.toLowerCase() ?? '')}
        />
        <View style={styles.grow} />
        <Switch label={`${kind.label} on`} on={part.on} onToggle={() => edits.set(layer, part, { on: !part.on }, part.on ? 'off' : 'on')} />
        <IconButton icon={Trash} label={`Remove ${label}`} onPress={() => edits.remove(layer, part)} />
      </Recede>
      {pick && (
        <Recede style={styles.hint}>
          <Text style={type.small}>Tap the photo to pick; draw on from there for {kind.params[pick.drag]?.label.toLowerCase()}.</Text>
        </Recede>
      )}
      {Object.entries(kind.params)
        .filter(([name]) => kind.handle === undefined || !PLACES.has(name))
        .map(([name, param]) => (
          <PartControl key={name} layer={layer} part={part} name={name} param={param} />
        ))}
      <Control
        id={`part-amount-${part.id}`}
        label="Amount"
        layer={layer}
        param={AMOUNT}
        value={part.amount}
        onShow={(amount) => edits.showSet(layer, part, { amount })}
        onKeep={(amount) => edits.set(layer, part, { amount }, `amount ${Math.round(amount * 100)} %`)}
      />
      <Control
        id={`part-keep-${part.id}`}
        label="Keep to edges"
        layer={layer}
        param={KEEP}
        value={part.keep}
        onShow={(keep) => edits.showSet(layer, part, { keep })}
        onKeep={(keep) => edits.set(layer, part, { keep }, `kept to edges ${Math.round(keep * 100)} %`)}
      />
      <Recede style={styles.line}>
        <Button
          label={part.inverted ? 'Part inverted' : 'Invert part'}
          strong={part.inverted}
          onPress={() => edits.set(layer, part, { inverted: !part.inverted }, 'inverted')}
        />
        {at > 0 && <Button label="Earlier" onPress={() => mask.keep(layer, { parts: moved(layer.mask.parts, at, at - 1) }, `${label} earlier`)} />}
        {kind.reads && part.part !== 'same-as' && (
          <Choice
            label={`What the ${label} looks at`}
            options={READS}
            value={part.reads}
            onChoose={(reads) => edits.set(layer, part, { reads }, reads === 'photo' ? 'looks at the photo' : 'looks at what is below')}
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

function PartControl({ layer, part, name, param }: { layer: Layer; part: Part; name: string; param: Param }) {
  const value = part.params[name] ?? param.at;
  if (param.type === 'number')
    return (
      <Control
        id={`part-${name}-${part.id}`}
        label={param.label}
        layer={layer}
        param={param}
        value={Number(value)}
        onShow={(next) => edits.show(layer.id, part.id, { [name]: next })}
        onKeep={(next) => edits.keep(layer.id, part.id, { [name]: next }, param.label.toLowerCase())}
      />
    );
  if (param.type === 'choice')
    return (
      <Recede style={styles.line}>
        <Text style={type.label}>{param.label}</Text>
        <View style={styles.grow}>
          <Choice
            label={`${param.label} of the ${partKindOf(part.part).label.toLowerCase()}`}
            options={param.options}
            value={String(value)}
            onChoose={(id) => edits.keep(layer.id, part.id, { [name]: id }, param.label.toLowerCase())}
          />
        </View>
      </Recede>
    );
  if (param.type === 'strokes')
    return <BrushBoard layer={layer} canvas={{ layerId: layer.id, partId: part.id, param: name, light: param.light === true }} />;
  if (param.type === 'layer') return <Links layer={layer} part={part} name={name} value={String(value)} />;
  if (param.type === 'samples') {
    const all = value as readonly Sample[];
    return all.length === 0 ? null : (
      <Recede style={styles.line}>
        <Text style={type.small}>{all.length === 1 ? 'One place' : `${all.length} places`}</Text>
        <Button label="Forget the last" onPress={() => edits.keep(layer.id, part.id, { [name]: all.slice(0, -1) }, 'one place less')} />
      </Recede>
    );
  }
  return null;
}

/** The layer whose mask it is the same as. */
function Links({ layer, part, name, value }: { layer: Layer; part: Part; name: string; value: string }) {
  const stack = useBench((state) => state.stack());
  const current = find(stack.layers, value);
  const others = linkable(stack, layer);
  const all = current && !others.some(({ id }) => id === value) ? [current, ...others] : others;
  return (
    <Recede>
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.line}>
        {current && <Button label="Own copy" onPress={() => goOwnWay(layer, part)} />}
        {all.map((other) => (
          <Button
            key={other.id}
            label={other.name}
            strong={other.id === value}
            onPress={() => edits.keep(layer.id, part.id, { [name]: other.id }, `as ${other.name}`)}
          />
        ))}
      </ScrollView>
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
  open: { backgroundColor: '#2a2a2a', paddingVertical: 6, marginBottom: 6, borderLeftWidth: 3, borderLeftColor: colour.tape },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingVertical: 4, minHeight: touch, flexWrap: 'wrap' },
  grow: { flex: 1 },
  see: { width: 74, minHeight: 38 },
  hint: { paddingHorizontal: space.m, paddingVertical: 4 },
});
