import { useEffect, useState, type ReactNode } from 'react';
import { ScrollView, StyleSheet, Text, TextInput, View } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { nameWords } from '@bexlen/core';
import { fileFormats, fileWish, formatOf, grounds, policies, sharpenings, type FileWish, type FormatId, type Preset } from '@bexlen/api';
import { Button, Choice, IconButton } from '../controls/Button';
import { Fader } from '../controls/Fader';
import { Figure } from '../controls/Figure';
import { Entry } from '../controls/Entry';
import { keepHabit, readHabit } from '../state/habits';
import { sentenceOf, server } from '../state/server';
import { colour, radius, touch, type, web } from '../theme/tokens';
import { made, tell } from './exports';
import { FileSize } from './FileSize';
import { canShare, share } from './share';
import { say, inSentence } from '../words';

const quality = { type: 'number', label: say.exports.quality, unit: 'plain', min: 1, max: 100, step: 1, at: 92 } as const;
const SIZES = [
  { id: 'full', label: say.exports.full },
  { id: 'edge', label: say.exports.longEdge },
  { id: 'box', label: say.exports.within },
  { id: 'megapixels', label: say.exports.megapixels },
] as const;
type SizeId = (typeof SIZES)[number]['id'];
const GAMUTS = [
  { id: 'photo', label: say.exports.asThePhoto },
  { id: 'srgb', label: 'sRGB' },
  { id: 'display-p3', label: 'Display P3' },
] as const;
const DEPTHS = [
  { id: '8', label: say.exports.bits8 },
  { id: '16', label: say.exports.bits16 },
] as const;
const LAST = 'bexlen-file-wish';
const plain: FileWish = fileWish.parse({ format: 'jpeg', quality: 92 });

interface Props {
  /** Versions of which files are made; the first one is the one whose size is told. */
  readonly versionIds: readonly string[];
  /** Something is not kept yet: files wait for it. */
  readonly waits?: boolean;
  /** A photo among them has see-through parts. */
  readonly transparent?: boolean;
  /** A photo among them holds more than sRGB. */
  readonly wide?: boolean;
  readonly onDone: (ids: readonly string[]) => void;
}

/** What files are to be like, with about how large they will be. */
export function FileForm({ versionIds, waits = false, transparent = false, wide = false, onDone }: Props) {
  const [wish, setWish] = useState<FileWish>(() => readHabit(LAST, fileWish, plain));
  const [presets, setPresets] = useState<readonly Preset[]>([]);
  const [presetName, setPresetName] = useState('');
  const [fault, setFault] = useState('');
  const [busy, setBusy] = useState(false);
  /** How far the file is that is made and shared, 0..1. */
  const [progress, setProgress] = useState<number>();
  const size = sizeIn(wish);
  const format = formatOf(wish.format);
  const change = (to: Partial<FileWish>): void => setWish((now) => fitting({ ...now, ...to }));
  const trying = async (act: () => Promise<void>): Promise<void> => {
    setBusy(true);
    setFault('');
    try {
      await act();
    } catch (error) {
      setFault(sentenceOf(error, say.exports.thatDidNotWorkTryAgain));
    }
    setBusy(false);
  };
  const readPresets = async (): Promise<void> => setPresets(await server.presets());
  useEffect(() => void trying(readPresets), []);
  const order = async (): Promise<string[]> => {
    keepHabit(LAST, wish);
    return (await server.addExports({ versionIds: [...versionIds], wish })).map(({ id }) => id);
  };
  const begin = (): Promise<void> => trying(async () => onDone(await order()));
  const makeAndShare = (): Promise<void> =>
    trying(async () => {
      setProgress(0);
      try {
        const ids = await order();
        const sentence = await share(await made(ids[0] as string, setProgress));
        onDone(ids);
        tell(sentence);
      } finally {
        setProgress(undefined);
      }
    });
  const shares = versionIds.length === 1 && canShare(wish.format);
  const keep = (): Promise<void> =>
    trying(async () => {
      await server.keepPreset(presetName.trim(), wish);
      setPresetName('');
      await readPresets();
    });
  const drop = (id: string): Promise<void> =>
    trying(async () => {
      await server.removePreset(id);
      await readPresets();
    });
  return (
    <>
      {presets.length > 0 && (
        <View role="group" aria-label={say.exports.presets} style={styles.wrap}>
          {presets.map((preset) => (
            <View key={preset.id} style={styles.preset}>
              <Button label={preset.name} says={say.exports.presetName(preset.name)} onPress={() => setWish(preset.wish)} />
              <IconButton icon={X} label={say.exports.removePresetName(preset.name)} onPress={() => void drop(preset.id)} />
            </View>
          ))}
        </View>
      )}
      <Choice label={say.exports.format} options={fileFormats} value={wish.format} onChoose={(id: FormatId) => change({ format: id })} />
      {format.depths.length > 1 && (
        <Choice
          label={say.exports.depth}
          options={DEPTHS}
          value={String(wish.depth ?? format.depth) as '8' | '16'}
          onChoose={(id) => change({ depth: Number(id) as 8 | 16 })}
        />
      )}
      {format.quality !== undefined && (
        <View style={styles.row}>
          <Text style={type.label}>{say.exports.quality}</Text>
          <View style={styles.fader}>
            <Fader
              id="quality"
              label={say.exports.quality}
              param={quality}
              value={wish.quality ?? format.quality}
              edge={1}
              family="group"
              onShow={(v) => change({ quality: Math.round(v) })}
              onKeep={(v) => change({ quality: Math.round(v) })}
            />
          </View>
          <Figure
            label={say.exports.quality}
            param={quality}
            value={wish.quality ?? format.quality}
            edge={1}
            onKeep={(v) => change({ quality: Math.round(v) })}
          />
        </View>
      )}
      <Choice label={say.exports.size} options={SIZES} value={size} onChoose={(id) => change(SIZED[id])} />
      {size === 'edge' && (
        <Count label={say.exports.longEdgeInPixels} value={wish.edge ?? 0} onChange={(edge) => change({ edge: Math.round(edge) })} />
      )}
      {size === 'box' && wish.box && (
        <View style={styles.row}>
          <Count
            label={say.exports.widthInPixels}
            value={wish.box.width}
            onChange={(width) => change({ box: { height: wish.box?.height ?? 16, width: Math.round(width) } })}
          />
          <Count
            label={say.exports.heightInPixels}
            value={wish.box.height}
            onChange={(height) => change({ box: { width: wish.box?.width ?? 16, height: Math.round(height) } })}
          />
        </View>
      )}
      {size === 'megapixels' && (
        <Count label={say.exports.megapixels} value={wish.megapixels ?? 0} onChange={(megapixels) => change({ megapixels })} />
      )}
      <Row label={say.exports.sharpened}>
        <Choice label={say.exports.sharpened} options={sharpenings} value={wish.sharpen} onChoose={(sharpen) => change({ sharpen })} />
      </Row>
      <Row label={say.exports.colours}>
        <Choice label={say.exports.colours} options={GAMUTS} value={wish.gamut} onChoose={(gamut) => change({ gamut })} />
      </Row>
      {wide && wish.gamut === 'srgb' && <Text style={type.small}>{say.exports.whatSrgbCannotHoldComesInside}</Text>}
      {transparent && wish.format === 'jpeg' && (
        <Row label={say.exports.seeThroughPartsOn}>
          <Choice label={say.exports.seeThroughPartsOn} options={grounds} value={wish.ground} onChoose={(ground) => change({ ground })} />
        </Row>
      )}
      <Row label={say.exports.camerasNotes}>
        <Choice label={say.exports.whatTheCameraWrote} options={policies} value={wish.metadata} onChoose={(metadata) => change({ metadata })} />
      </Row>
      <Entry label={say.exports.nameOfTheFile} value={wish.fileName} onChange={(fileName) => change({ fileName })} />
      <ScrollView horizontal showsHorizontalScrollIndicator={false}>
        <View style={styles.words}>
          {nameWords.map(({ id, label }) => (
            <Button
              key={id}
              label={label}
              says={say.exports.addLabelToTheName(inSentence(label))}
              onPress={() => change({ fileName: `${wish.fileName} {${id}}`.trim() })}
            />
          ))}
        </View>
      </ScrollView>
      <FileSize versionId={versionIds[0] ?? ''} wish={wish} several={versionIds.length} waits={waits} said={fault} />
      {fault !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      )}
      {shares && (
        <Button
          strong
          label={progress === undefined ? say.exports.makeAndShare : say.exports.makingWhat(Math.round(100 * progress))}
          off={busy || waits}
          onPress={() => void makeAndShare()}
        />
      )}
      <Button
        strong={!shares}
        label={versionIds.length > 1 ? say.exports.makeCountFiles(versionIds.length) : say.exports.makeTheFile}
        off={busy || waits || versionIds.length === 0}
        onPress={() => void begin()}
      />
      <View style={styles.row}>
        <View style={styles.grow}>
          <Entry label={say.exports.nameOfAPreset} value={presetName} onChange={setPresetName} />
        </View>
        <Button label={say.exports.keepAsPreset} off={busy || presetName.trim() === ''} onPress={() => void keep()} />
      </View>
    </>
  );
}

const SIZED: Record<SizeId, Partial<Pick<FileWish, 'edge' | 'box' | 'megapixels'>>> = {
  full: { edge: undefined, box: undefined, megapixels: undefined },
  edge: { edge: 2048, box: undefined, megapixels: undefined },
  box: { edge: undefined, box: { width: 1920, height: 1080 }, megapixels: undefined },
  megapixels: { edge: undefined, box: undefined, megapixels: 6 },
};
const sizeIn = ({ edge, box, megapixels }: FileWish): SizeId =>
  edge !== undefined ? 'edge' : box ? 'box' : megapixels !== undefined ? 'megapixels' : 'full';

/** A wish without what its format does not have. */
function fitting({ quality: q, depth, ...wish }: FileWish): FileWish {
  const format = formatOf(wish.format);
  const given = Object.fromEntries(Object.entries(wish).filter(([, value]) => value !== undefined)) as Omit<FileWish, 'quality' | 'depth'>;
  return {
    ...given,
    ...(format.quality !== undefined && q !== undefined && { quality: q }),
    ...(depth !== undefined && format.depths.includes(depth) && { depth }),
  };
}

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <View style={styles.row}>
      <Text style={[type.label, styles.label]}>{label}</Text>
      <View style={styles.grow}>{children}</View>
    </View>
  );
}

/** A number that is typed. */
function Count({ label, value, onChange }: { label: string; value: number; onChange: (value: number) => void }) {
  const [typed, setTyped] = useState<string>();
  const end = (): void => {
    const to = Number(typed?.replace(',', '.'));
    if (typed !== undefined && Number.isFinite(to) && to > 0) onChange(to);
    setTyped(undefined);
  };
  return (
    <View style={[styles.row, styles.grow]}>
      <Text style={[type.small, styles.grow]}>{label}</Text>
      <TextInput
        inputMode="decimal"
        selectTextOnFocus
        aria-label={label}
        value={typed ?? String(value)}
        onChangeText={setTyped}
        onBlur={end}
        onSubmitEditing={end}
        style={[type.figure, styles.count]}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  wrap: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  preset: { flexDirection: 'row', backgroundColor: colour.well, borderRadius: radius.m },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  label: { width: 104 },
  grow: { flex: 1, minWidth: 0 },
  fader: { flex: 1, flexDirection: 'row' },
  words: { flexDirection: 'row', gap: 6 },
  count: {
    width: 92,
    height: touch,
    paddingHorizontal: 10,
    textAlign: 'right',
    borderRadius: radius.m,
    backgroundColor: colour.well,
    ...web({ outlineStyle: 'none' }),
  },
});
