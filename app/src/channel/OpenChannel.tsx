import { memo, useCallback, useEffect, useMemo, useRef, useState, type ReactNode, type Ref } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { channelParams, type GateSide, type Layer } from '@bexlen/core';
import Book from 'lucide-react-native/icons/book-open';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import Copy from 'lucide-react-native/icons/copy';
import Trash from 'lucide-react-native/icons/trash';
import { Button, Choice, IconButton } from '../controls/Button';
import { Graph } from '../controls/Graph';
import { Switch } from '../controls/Switch';
import { Tape } from '../controls/Tape';
import { Recede } from '../controls/held';
import { usePreview } from '../engine/shown';
import { inForce, openChannel, useBench, useKept } from '../state/bench';
import { comeBack, noteLeaf, type Leaf } from '../state/place';
import { strengthTarget } from '../edits/target';
import { space, type } from '../theme/tokens';
import * as desk from '../edits/layers';
import { ParamEditor } from '../params/ParamEditor';
import { useMirror } from '../controls/mirror';
import { Modes } from './Modes';
import { Newer } from './Newer';
import { TestStrip } from './TestStrip';
import { mask } from '../edits/masks';
import { Mask } from './Where';
import { takeOne } from '../looks/panel';
import { WashNote } from './WashNote';
import { What } from './What';
import { say, inSentence } from '../words';

const LEAVES = [
  { id: 'what', label: say.channel.what },
  { id: 'where', label: say.channel.where },
  { id: 'how', label: say.channel.how },
] as const;

/** The opened channel: what it does, where it lands, how it mixes. One page; the leaves jump to their part of it. */
export function OpenChannel({ layer }: { layer: Layer }) {
  const scroll = useRef<ScrollView>(null);
  const parts = useRef<Partial<Record<Leaf, View>>>({});
  const [strip, setStrip] = useState(false);
  const [leaf, setLeaf] = useState<Leaf>('what');
  const kept = useKept(layer);
  const wanted = useRef<Leaf | undefined>(undefined);
  useEffect(() => {
    wanted.current = comeBack(useBench.getState().versionId, 'leaf');
    return () => noteLeaf('what');
  }, []);
  const goTo = useCallback((id: Leaf): void => {
    setLeaf(id);
    noteLeaf(id);
    scroll.current?.scrollTo({ y: topOf(parts.current[id]), animated: false });
  }, []);
  const part = (id: Leaf) => ({
    ref: (view: View | null) => {
      if (view) parts.current[id] = view;
      else delete parts.current[id];
    },
    onLaid: () => {
      if (wanted.current !== id) return;
      wanted.current = undefined;
      goTo(id);
    },
  });
  // What is not held stays as it is, and is not drawn again: a finger waits for nothing but its own control.
  const its = <K extends 'strength' | 'mask' | 'gate'>(key: K): Layer => (layer[key] === kept[key] ? kept : layer);
  const ofStrength = its('strength');
  const strength = useMemo(() => strengthTarget(ofStrength, 'channel'), [ofStrength]);
  const lay = useCallback(() => setStrip((old) => !old), []);
  return (
    <View style={styles.channel}>
      <Head layer={kept} leaf={leaf} onLeaf={goTo} />
      <ParamEditor target={strength} name="strength" param={channelParams.strength} onStrip={lay} />
      <ScrollView ref={scroll} contentContainerStyle={styles.page}>
        {strip && (
          <TestStrip
            control={{ name: 'strength', label: say.channel.strength, param: channelParams.strength, value: layer.strength }}
            others={[]}
            at={strength.at}
            onTake={(taken) => {
              strength.keep(taken);
              setStrip(false);
            }}
            onClose={() => setStrip(false)}
          />
        )}
        {layer.kind !== 'group' && (
          <Part title={say.channel.what} {...part('what')}>
            {kept.kind !== 'group' && <Newer layer={kept} />}
            <What layer={layer} />
          </Part>
        )}
        <Part title={say.channel.where} {...part('where')}>
          <Mask layer={its('mask')} />
          <Gates layer={its('gate')} />
        </Part>
        <Part title={say.channel.how} {...part('how')}>
          <How layer={kept} />
        </Part>
      </ScrollView>
      {!(layer.kind !== 'group' && layer.layers) && <WashNote layer={kept} />}
    </View>
  );
}

/** What stands above the controls of a channel: its name, its leaves, its switch. */
const Head = memo(function Head({ layer, leaf, onLeaf }: { layer: Layer; leaf: Leaf; onLeaf: (id: Leaf) => void }) {
  const mirror = useMirror();
  const leaves = layer.kind === 'group' ? LEAVES.filter(({ id }) => id !== 'what') : LEAVES;
  return (
    <Recede style={[styles.head, mirror, mirror && styles.headMirrored]}>
      <View style={styles.tape}>
        <Tape name={layer.name} onRename={(name) => desk.rename(layer, name)} />
      </View>
      <View style={styles.leaves}>
        <Choice label={say.channel.leaf} options={leaves} value={leaf === 'what' && layer.kind === 'group' ? 'where' : leaf} onChoose={onLeaf} />
      </View>
      <Switch ofLayer label={say.channel.nameOn(layer.name)} on={layer.on} onToggle={() => desk.toggle(layer)} />
      <IconButton icon={ChevronDown} label={say.channel.backToTheDesk} onPress={() => openChannel(undefined)} />
    </Recede>
  );
});

/** How far down the page a part begins now: it moves without being laid out anew when something above it opens. */
const topOf = (view: View | undefined): number => (view as unknown as HTMLElement | undefined)?.offsetTop ?? 0;

interface PartProps {
  readonly title: string;
  readonly ref: Ref<View>;
  readonly onLaid: () => void;
  readonly children: ReactNode;
}

function Part({ title, ref, onLaid, children }: PartProps) {
  return (
    <View ref={ref} role="region" aria-label={title} onLayout={onLaid} style={styles.part}>
      {children}
    </View>
  );
}

const SIDES: readonly { id: GateSide; label: string }[] = [
  { id: 'own', label: say.channel.byItsOwnTone },
  { id: 'beneath', label: say.channel.byTheToneBeneath },
];
const SHAPES = [
  { id: 'straight', label: say.channel.straight },
  { id: 'smooth', label: say.channel.smooth },
] as const;

const Gates = memo(function Gates({ layer }: { layer: Layer }) {
  const tones = usePreview((state) => state.tones);
  return (
    <View style={styles.gates}>
      {SIDES.map(({ id: side, label }) => {
        const curve = layer.gate[side];
        const id = `gate-${side}-${layer.id}`;
        return (
          <View key={side} style={styles.gate}>
            <Recede>
              <Text style={type.small}>{label}</Text>
            </Recede>
            <Recede mine={(held) => held === id}>
              <Graph
                id={id}
                label={say.channel.labelGateOfName(label, layer.name)}
                curve={curve}
                tones={tones?.[side]}
                onShow={(next) => desk.gate.show(layer, side, next)}
                onKeep={(next) => desk.gate.keep(layer, side, next)}
              />
            </Recede>
            <Recede>
              <Choice
                label={say.channel.shapeOfTheGateLabel(inSentence(label))}
                options={SHAPES}
                value={curve.shape}
                onChoose={(shape) => desk.gate.keep(layer, side, { ...curve, shape })}
              />
            </Recede>
          </View>
        );
      })}
    </View>
  );
});

const READS = [
  { id: 'below', label: say.channel.below },
  { id: 'photo', label: say.channel.photo },
] as const;

const How = memo(function How({ layer }: { layer: Layer }) {
  const before = useBench((state) => desk.previous(inForce(state.history), layer));
  return (
    <Recede style={styles.how}>
      <Modes layer={layer} />
      <View style={styles.line}>
        <Text style={type.label}>{say.channel.reads}</Text>
        <Choice label={say.channel.whatNameReads(layer.name)} options={READS} value={layer.reads} onChoose={(from) => desk.reads(layer, from)} />
        {layer.mask.parts.length > 0 && (
          <Button
            label={layer.masked ? say.channel.onlyWhatIsMasked : say.channel.allOfIt}
            strong={layer.masked}
            onPress={() => mask.masked(layer, !layer.masked)}
          />
        )}
        <View style={styles.grow} />
        {before && (
          <Button
            label={before.layers ? say.channel.putIntoName(before.name) : say.channel.groupWithName(before.name)}
            onPress={() => desk.groupOnto(layer, before)}
          />
        )}
      </View>
      <View style={styles.line}>
        {layer.kind === 'group' && <Button label={say.channel.takeApart} onPress={() => desk.takeApart(layer)} />}
        <View style={styles.grow} />
        <IconButton icon={Copy} label={say.channel.duplicateName(layer.name)} onPress={() => desk.duplicate(layer)} />
        <IconButton icon={Book} label={say.channel.takeNameAsALook(layer.name)} onPress={() => takeOne(layer.id)} />
        <IconButton icon={Trash} label={say.channel.removeName(layer.name)} onPress={() => desk.takeOut(layer)} />
      </View>
    </Recede>
  );
});

const styles = StyleSheet.create({
  channel: { flex: 1 },
  head: { flexDirection: 'row', alignItems: 'center', paddingLeft: space.m, paddingRight: 4 },
  headMirrored: { paddingLeft: 4, paddingRight: space.m },
  // A long name gives way to the leaves.
  tape: { flexShrink: 1, minWidth: 56, alignItems: 'flex-start' },
  leaves: { flexGrow: 1, flexShrink: 0, paddingHorizontal: 8, alignItems: 'stretch' },
  grow: { flex: 1 },
  page: { paddingBottom: 60 },
  part: { paddingTop: 6 },
  gates: { flexDirection: 'row', gap: 8, paddingHorizontal: space.m },
  gate: { flex: 1, gap: 4 },
  how: { gap: 8, paddingHorizontal: space.m },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, flexWrap: 'wrap' },
});
