import equal from 'fast-deep-equal';
import { memo, useEffect, useMemo, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { beneath, change, kindOf, type AnyValues, type KindLayer, type Stack } from '@bexlen/core';
import MoveVertical from 'lucide-react-native/icons/move-vertical';
import { Button, Choice } from '../controls/Button';
import { SmallPicture } from '../controls/Picture';
import { Recede } from '../controls/held';
import { smallPictures } from '../engine/preview';
import { inForce, useBench, useKept } from '../state/bench';
import { colour, radius, space, touch, type } from '../theme/tokens';
import * as desk from '../edits/layers';
import { useView } from '../state/view';
import { Fit, LookClose } from './Advice';
import { Boards } from '../boards/Boards';
import { ListFile } from './ListFile';
import { layerTarget } from '../edits/target';
import { ParamEditor } from '../params/ParamEditor';
import { TestStrip } from './TestStrip';
import { useSmalls } from '../engine/small';
import { say } from '../words';

const CORNERS: ReadonlySet<string> = new Set(['x', 'y', 'aspect', 'ax', 'ay', 'bx', 'by', 'cx', 'cy', 'dx', 'dy']);

/** What a layer does: named starting points, then the controls that its kind defines, section by section. */
export function What({ layer }: { layer: KindLayer }) {
  const { params, handle, autoFor } = kindOf(layer.kind);
  // While one control is held, the others stay as they are.
  const kept = useKept(layer);
  const target = layerTarget(layer);
  const resting = useMemo(() => layerTarget(kept), [kept]);
  const targetFor = (name: string, { amount }: { readonly amount?: string | undefined }) =>
    [name, ...(amount ? [amount] : [])].every((it) => layer.params[it] === kept.params[it]) ? resting : target;
  const sections = [...new Set(Object.values(params).flatMap(({ section }) => section ?? []))];
  const [chosen, setChosen] = useState<string>();
  const section = sections.includes(chosen ?? '') ? chosen : sections[0];
  // What is placed by its corners on the photo has no faders for them.
  const corners: ReadonlySet<string> = handle?.shape === 'sheet' ? CORNERS : new Set();
  const shown = Object.entries(params).filter(([name, param]) => !corners.has(name) && (param.section === undefined || param.section === section));
  const [strip, setStrip] = useState<string>();
  const steppable = shown.flatMap(([name, param]) =>
    param.type === 'number' ? [{ name, label: param.label, param, value: Number(layer.params[name] ?? param.at) }] : [],
  );
  const laidOut = steppable.find(({ name }) => name === strip);
  const auto = useMemo(() => <Auto layer={kept} />, [kept]);
  const partners = new Set(shown.flatMap(([, param]) => (param.type === 'number' && param.amount ? [param.amount] : [])));
  return (
    <>
      <Fit layer={kept} />
      {kindOf(layer.kind).close && <LookClose />}
      <Variants layer={kept} />
      {sections.length > 1 && (
        <Recede style={styles.sections}>
          <Choice
            label={say.channel.controlsOfName(layer.name)}
            options={sections.map((id) => ({ id, label: id }))}
            value={section ?? ''}
            onChoose={(id) => setChosen(id)}
          />
        </Recede>
      )}
      <Boards layer={layer} section={section} />
      {section !== undefined && kindOf(layer.kind).listed === section && <ListFile layer={kept} />}
      <DragOnPhoto layer={kept} section={section} />
      {laidOut && (
        <TestStrip
          key={laidOut.name}
          control={laidOut}
          others={steppable.filter(({ name }) => name !== strip)}
          at={target.at}
          onTake={(values) => {
            target.keep(values, desk.figures(layer, values));
            setStrip(undefined);
          }}
          onClose={() => setStrip(undefined)}
        />
      )}
      {shown.map(([name, param]) => (
        <ParamEditor
          key={name}
          target={targetFor(name, 'amount' in param ? param : {})}
          name={name}
          param={param}
          beside={autoFor === name && auto}
          wheeled={partners.has(name)}
          onStrip={setStrip}
        />
      ))}
    </>
  );
}

/** A small picture of a stack, once. */
const seePicture = (stack: Stack, then: (seen: ImageData) => void): void => void smallPictures([{ stack }], (_, image) => then(image));

/** Finds values from what the layer reads. */
function Auto({ layer }: { layer: KindLayer }) {
  const { auto } = kindOf(layer.kind);
  if (!auto) return null;
  const find = (seen: ImageData): void => layerTarget(layer).keep(auto(seen) as AnyValues, say.channel.autoStep);
  return <Button label={say.channel.auto} onPress={() => seePicture(beneath(useBench.getState().stack(), layer.id), find)} />;
}

const DragOnPhoto = memo(function DragOnPhoto({ layer, section }: { layer: KindLayer; section: string | undefined }) {
  const on = useView(({ toneDrag }) => toneDrag?.layerId === layer.id);
  const { drag, auto, autoFor } = kindOf(layer.kind);
  useEffect(() => {
    if (useView.getState().toneDrag?.layerId === layer.id) useView.setState({ toneDrag: { layerId: layer.id, section } });
  }, [layer.id, section]);
  const ready = drag !== undefined;
  useEffect(() => {
    if (ready) useView.setState({ dragReady: { layerId: layer.id, section } });
    return () => useView.setState({ dragReady: undefined });
  }, [ready, layer.id, section]);
  useEffect(() => () => useView.setState({ toneDrag: undefined }), [layer.id]);
  if (!drag) return null;
  return (
    <Recede style={styles.line}>
      <Button
        icon={MoveVertical}
        label={on ? say.channel.draggingOnThePhotoDone : say.channel.dragOnThePhoto}
        strong={on}
        onPress={() => useView.setState({ toneDrag: on ? undefined : { layerId: layer.id, section } })}
      />
      {auto && !autoFor && <Auto layer={layer} />}
    </Recede>
  );
});

/** Named starting points as live pictures; a tap takes one. */
const Variants = memo(function Variants({ layer }: { layer: KindLayer }) {
  const { variants = [] } = kindOf(layer.kind);
  const layers = useBench((state) => inForce(state.history).layers.length);
  const withStart = (params: object): Stack =>
    change(inForce(useBench.getState().history), layer.id, (it) =>
      it.kind === 'group' ? it : { ...it, params: desk.startOf(layer, params as Record<string, unknown>) },
    );
  const pictures = useSmalls(layers, (i) => variants[i] && withStart(variants[i].params));
  if (variants.length === 0) return null;
  return (
    <Recede>
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.variants}>
        {variants.map(({ label, params }, i) => {
          const taken = Object.entries(params).every(([key, value]) => equal(layer.params[key], value));
          return (
            <Pressable
              key={label}
              role="button"
              aria-label={say.channel.startFromLabel(label)}
              aria-pressed={taken}
              onPress={() => desk.start(layer, label, params as Record<string, unknown>)}
              style={[styles.variant, taken && styles.taken]}
            >
              <View style={styles.picture}>
                <SmallPicture of={pictures} at={i} />
              </View>
              <Text style={[type.small, styles.name]} numberOfLines={1}>
                {label}
              </Text>
            </Pressable>
          );
        })}
      </ScrollView>
    </Recede>
  );
});

const styles = StyleSheet.create({
  sections: { paddingHorizontal: space.m, paddingBottom: 4 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, minHeight: touch },
  variants: { gap: 8, paddingHorizontal: space.m, paddingBottom: 8 },
  variant: {
    width: 92,
    borderRadius: radius.m,
    overflow: 'hidden',
    backgroundColor: colour.raised,
    borderBottomWidth: 2,
    borderBottomColor: colour.raised,
  },
  taken: { borderBottomColor: colour.signal },
  picture: { height: 62, backgroundColor: colour.well },
  name: { paddingHorizontal: 6, paddingVertical: 5 },
});
