import { useEffect, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import {
  beneath,
  change,
  kindOf,
  straightCurve,
  type ChoiceParam,
  type CurveParam,
  type Focus,
  type Curve,
  type KindLayer,
  type NumberParam,
  type Param,
  type ParamValue,
  type Stack,
} from '@bexlen/core';
import MoveVertical from 'lucide-react-native/icons/move-vertical';
import { Button, Choice } from '../controls/Button';
import { Graph } from '../controls/Graph';
import { Picture } from '../controls/Picture';
import { Recede } from '../controls/held';
import { Wheel } from '../controls/Wheel';
import { smallPictures } from '../engine/preview';
import { usePreview } from '../engine/shown';
import { useBench } from '../state/bench';
import { colour, radius, space, touch, type } from '../theme/tokens';
import * as desk from '../edits/layers';
import { useView } from '../viewer/view';
import { Fit, LookClose } from './Advice';
import { Boards } from '../boards/Boards';
import { FileEditor } from '../params/FileEditor';
import { ListFile } from './ListFile';
import { Control } from '../params/Control';
import { FocusBoard } from '../params/FocusEditor';
import { PictureBoard } from '../params/PhotoEditor';
import { BrushBoard } from '../params/StrokesEditor';
import { TestStrip } from './TestStrip';
import { useSmallPictures } from '../engine/small';

/** More options than this are chosen among the variants instead. */
const MOST_OPTIONS = 4;

const CORNERS: ReadonlySet<string> = new Set(['x', 'y', 'aspect', 'ax', 'ay', 'bx', 'by', 'cx', 'cy', 'dx', 'dy']);

/** What a layer does: named starting points, then the controls that its kind defines, section by section. */
export function What({ layer }: { layer: KindLayer }) {
  const { params, handle } = kindOf(layer.kind);
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
  const partners = new Set(shown.flatMap(([, param]) => (param.type === 'number' && param.amount ? [param.amount] : [])));
  return (
    <>
      <Fit layer={layer} />
      {kindOf(layer.kind).close && <LookClose />}
      <Variants layer={layer} />
      {sections.length > 1 && (
        <Recede style={styles.sections}>
          <Choice
            label={`Controls of ${layer.name}`}
            options={sections.map((id) => ({ id, label: id }))}
            value={section ?? ''}
            onChoose={(id) => setChosen(id)}
          />
        </Recede>
      )}
      <Boards layer={layer} section={section} />
      {section !== undefined && kindOf(layer.kind).listed === section && <ListFile layer={layer} />}
      <DragOnPhoto layer={layer} section={section} />
      {laidOut && (
        <TestStrip
          key={laidOut.name}
          control={laidOut}
          others={steppable.filter(({ name }) => name !== strip)}
          at={(values) => desk.stackAt(layer, values)}
          onTake={(values) => {
            desk.several.keep(layer, desk.figures(layer, values), values);
            setStrip(undefined);
          }}
          onClose={() => setStrip(undefined)}
        />
      )}
      {shown.map(([name, param]) => (
        <Editor key={name} layer={layer} name={name} param={param} wheeled={partners.has(name)} onStrip={() => setStrip(name)} />
      ))}
    </>
  );
}

interface EditorProps {
  readonly layer: KindLayer;
  readonly name: string;
  readonly param: Param;
  /** It stands on a wheel, beside which it is a plain fader. */
  readonly wheeled: boolean;
  readonly onStrip: () => void;
}

function Editor({ layer, name, param, wheeled, onStrip }: EditorProps) {
  const value = layer.params[name] ?? param.at;
  if (param.type === 'curve') return <CurveEditor layer={layer} name={name} param={param} curve={value as Curve} />;
  if (param.type === 'file') return <FileEditor layer={layer} name={name} param={param} value={String(value)} />;
  if (param.type === 'photo') return <PictureBoard layer={layer} name={name} value={String(value)} />;
  if (param.type === 'focus') return <FocusBoard layer={layer} param={param} all={value as readonly Focus[]} />;
  if (param.type === 'choice' && param.listed) return <Listed layer={layer} name={name} param={param} value={String(value)} />;
  if (param.type === 'choice')
    return param.options.length > MOST_OPTIONS ? null : (
      <Recede style={styles.line}>
        <Text style={type.label}>{param.label}</Text>
        <View style={styles.grow}>
          <Choice
            label={`${param.label} of ${layer.name}`}
            options={param.options}
            value={String(value)}
            onChoose={(id) => desk.param.keep(layer, name, id)}
          />
        </View>
      </Recede>
    );
  if (param.type === 'strokes')
    return <BrushBoard layer={layer} canvas={{ layerId: layer.id, partId: undefined, param: name, light: param.light === true }} />;
  if (param.type !== 'number') return null;
  const fader = (
    <Control
      id={`${layer.id}-${name}`}
      label={param.label}
      layer={layer}
      param={param}
      value={Number(value)}
      onShow={(next) => desk.param.show(layer, name, next)}
      onKeep={(next) => desk.param.keep(layer, name, next)}
      onStrip={onStrip}
    />
  );
  const beside =
    kindOf(layer.kind).autoFor === name ? <Auto layer={layer} /> : param.seed ? <AnotherSeed layer={layer} name={name} param={param} /> : null;
  if (beside)
    return (
      <View style={styles.beside}>
        <View style={styles.grow}>{fader}</View>
        <Recede>{beside}</Recede>
      </View>
    );
  if (!param.amount || wheeled) return fader;
  return (
    <>
      <HueWheel layer={layer} name={name} param={param} amount={param.amount} />
      {fader}
    </>
  );
}

/** All ways of a choice in a row that can be drawn along. */
function Listed({ layer, name, param, value }: { layer: KindLayer; name: string; param: ChoiceParam; value: string }) {
  return (
    <Recede>
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.line}>
        <Text style={type.label}>{param.label}</Text>
        {param.options.map(({ id, label }) => (
          <Button key={id} label={label} strong={id === value} onPress={() => desk.param.keep(layer, name, id)} />
        ))}
      </ScrollView>
    </Recede>
  );
}

function HueWheel({ layer, name, param, amount }: { layer: KindLayer; name: string; param: NumberParam; amount: string }) {
  const id = `${layer.id}-${name}-wheel`;
  const both = (hue: number, share: number): Record<string, number> => ({ [name]: hue, [amount]: share });
  return (
    <Recede mine={(held) => held === id} style={styles.wheel}>
      <Wheel
        id={id}
        label={`${param.label} of ${layer.name}, as a wheel`}
        hue={Number(layer.params[name] ?? param.at)}
        amount={Number(layer.params[amount] ?? 0)}
        onShow={(hue, share) => desk.several.show(layer, both(hue, share))}
        onKeep={(hue, share) =>
          desk.several.keep(layer, `${param.label.toLowerCase()} ${Math.round(hue)}\u00b0, ${Math.round(share * 100)} %`, both(hue, share))
        }
      />
    </Recede>
  );
}

/** A small picture of a stack, once. */
const seePicture = (stack: Stack, then: (seen: ImageData) => void): void => void smallPictures([{ stack }], (_, image) => then(image));

/** Takes another of many equals. */
function AnotherSeed({ layer, name, param }: { layer: KindLayer; name: string; param: NumberParam }) {
  const another = (): number => Math.round(param.min + Math.random() * (param.max - param.min));
  return <Button label="Another" onPress={() => desk.param.keep(layer, name, another())} />;
}

/** Finds values from what the layer reads. */
function Auto({ layer }: { layer: KindLayer }) {
  const { auto } = kindOf(layer.kind);
  if (!auto) return null;
  const find = (seen: ImageData): void => desk.several.keep(layer, 'auto', auto(seen) as Record<string, ParamValue>);
  return <Button label="Auto" onPress={() => seePicture(beneath(useBench.getState().stack(), layer.id), find)} />;
}

function DragOnPhoto({ layer, section }: { layer: KindLayer; section: string | undefined }) {
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
        label={on ? 'Dragging on the photo: done' : 'Drag on the photo'}
        strong={on}
        onPress={() => useView.setState({ toneDrag: on ? undefined : { layerId: layer.id, section } })}
      />
      {auto && !autoFor && <Auto layer={layer} />}
    </Recede>
  );
}

const SHAPES = [
  { id: 'straight', label: 'Straight' },
  { id: 'smooth', label: 'Smooth' },
] as const;

function CurveEditor({ layer, name, param, curve }: { layer: KindLayer; name: string; param: CurveParam; curve: Curve }) {
  const tones = usePreview((state) => state.tones);
  const id = `${layer.id}-${name}`;
  const keep = (next: Curve): void => desk.param.keep(layer, name, next);
  return (
    <View style={styles.curve}>
      <Recede mine={(held) => held === id}>
        <Graph
          id={id}
          label={`Curve ${param.label.toLowerCase()} of ${layer.name}`}
          says={([x, y]) => `${Math.round(x * 255)} becomes ${Math.round(y * 255)}`}
          tall
          curve={curve}
          tones={tones?.beneath}
          onShow={(next) => desk.param.show(layer, name, next)}
          onKeep={keep}
        />
      </Recede>
      <Recede style={styles.line}>
        <View style={styles.grow}>
          <Choice
            label={`Shape of curve ${param.label.toLowerCase()}`}
            options={SHAPES}
            value={curve.shape}
            onChoose={(shape) => keep({ ...curve, shape })}
          />
        </View>
        <Button label="Straighten" onPress={() => keep({ ...straightCurve, shape: curve.shape })} />
      </Recede>
    </View>
  );
}

/** Named starting points as live pictures; a tap takes one. */
function Variants({ layer }: { layer: KindLayer }) {
  const { variants = [] } = kindOf(layer.kind);
  const stack = useBench((state) => state.stack());
  const withStart = (params: object) =>
    change(stack, layer.id, (it) => (it.kind === 'group' ? it : { ...it, params: desk.startOf(layer, params as Record<string, unknown>) }));
  const pictures = useSmallPictures(variants.length > 0 ? `${layer.id} ${stack.layers.length}` : 'none', () =>
    variants.map(({ params }) => withStart(params)),
  );
  if (variants.length === 0) return null;
  return (
    <Recede>
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.variants}>
        {variants.map(({ label, params }, i) => {
          const taken = Object.entries(params).every(([key, value]) => JSON.stringify(layer.params[key]) === JSON.stringify(value));
          return (
            <Pressable
              key={label}
              role="button"
              aria-label={`Start from ${label}`}
              aria-pressed={taken}
              onPress={() => desk.start(layer, label, params as Record<string, unknown>)}
              style={[styles.variant, taken && styles.taken]}
            >
              <View style={styles.picture}>
                <Picture image={pictures[i]} />
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
}

const styles = StyleSheet.create({
  sections: { paddingHorizontal: space.m, paddingBottom: 4 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, minHeight: touch },
  grow: { flex: 1 },
  beside: { flexDirection: 'row', alignItems: 'center', paddingRight: space.m },
  wheel: { alignItems: 'center', paddingVertical: 6 },
  curve: { gap: 6, paddingHorizontal: 0 },
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
