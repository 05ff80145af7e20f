import { useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { asItCame, figure, stripValues, type NumberParam, type Stack } from '@bexlen/core';
import X from 'lucide-react-native/icons/x';
import { Button, Choice, IconButton } from '../controls/Button';
import { SmallPicture } from '../controls/Picture';
import { Recede } from '../controls/held';
import { useBench } from '../state/bench';
import { server } from '../state/server';
import { edgeOf } from '../state/words';
import { layOutVariants } from '../looks/variants';
import { colour, radius, space, type } from '../theme/tokens';
import { useSmalls } from '../engine/small';
import { say, inSentence } from '../words';

/** Renderings of a strip, and along each side of a grid. */
const COUNTS = [5, 7] as const;
const GRID = 3;
/** Other photos that values are laid out over. */
const MOST_OTHERS = 4;
/** How much of the fader a strip spans, at first and at the ends of widening and narrowing. */
const SPANS = [0.08, 0.16, 0.32, 0.6, 1];

/** A control that can be laid out. */
export interface Stepped {
  readonly name: string;
  readonly label: string;
  readonly param: NumberParam;
  readonly value: number;
}

interface Props {
  readonly control: Stepped;
  /** Controls that can make a grid with it. */
  readonly others: readonly Stepped[];
  /** The stack as it would be at some values, by the names of the controls. */
  readonly at: (values: Readonly<Record<string, number>>) => Stack;
  readonly onTake: (values: Readonly<Record<string, number>>) => void;
  readonly onClose: () => void;
}

/** Values of a control side by side, as in the darkroom, or of two controls as a grid: a tap takes one. */
export function TestStrip({ control, others, at, onTake, onClose }: Props) {
  const [span, setSpan] = useState(2);
  const [count, setCount] = useState<(typeof COUNTS)[number]>(5);
  const [second, setSecond] = useState<string>();
  const photo = useBench((state) => state.photo);
  const edge = edgeOf(photo);
  const history = useBench((state) => state.history);
  const other = others.find(({ name }) => name === second);
  const width = SPANS[span] ?? 0.3;
  const values = stripValues(control.param, control.value, width, other ? GRID : count);
  const down = other ? stripValues(other.param, other.value, width, GRID) : [undefined];
  const cells = down.flatMap((y) =>
    values.map((x) => ({ [control.name]: x, ...(other && y !== undefined && { [other.name]: y }) }) as Record<string, number>),
  );
  const pictures = useSmalls(`${JSON.stringify(cells)} ${history.cursor}`, (i) => cells[i] && at(cells[i]));
  const widen = (by: number): void => setSpan((now) => Math.min(SPANS.length - 1, Math.max(0, now + by)));
  const textOf = (cell: Readonly<Record<string, number>>): string =>
    [control, ...(other ? [other] : [])].map(({ name, param }) => figure(param, cell[name] as number, edge)).join(', ');
  /** The same values on other photos: those that are picked, or the first ones of the shelf. */
  const onOthers = async (): Promise<void> => {
    const { photos: all } = await server.photos();
    const rest = all.filter(({ id, binned }) => !binned && id !== photo?.id);
    const picked = rest.filter((one) => one.picked);
    const photos = [...(photo ? [photo] : []), ...(picked.length > 0 ? picked : rest).slice(0, MOST_OTHERS)];
    const lines = photos.flatMap((one) =>
      cells.map((cell) => ({
        photo: one,
        stack: { ...at(cell), ...(one.id !== photo?.id && { geometry: asItCame }) },
        name: one.name,
        line: textOf(cell),
      })),
    );
    layOutVariants(title, lines);
  };
  const title = other ? say.channel.labelAndLabel(control.label, inSentence(other.label)) : control.label;
  return (
    <Recede style={styles.strip}>
      <View style={styles.head}>
        <Text style={[type.label, styles.grow]} numberOfLines={1}>
          {other ? title : say.channel.testStripTitle(inSentence(title))}
        </Text>
        <Button label={say.channel.narrower} off={span === 0} onPress={() => widen(-1)} />
        <Button label={say.channel.wider} off={span === SPANS.length - 1} onPress={() => widen(1)} />
        <IconButton icon={X} label={say.channel.closeTheTestStrip} onPress={onClose} />
      </View>
      {down.map((y, r) => (
        <View key={y ?? 'alone'} style={styles.row}>
          {values.map((x, c) => {
            const i = r * values.length + c;
            const cell = cells[i] as Record<string, number>;
            const now = x === control.value && (!other || y === other.value);
            return (
              <Pressable
                key={x}
                role="button"
                aria-label={say.channel.takeTitleText(title, textOf(cell))}
                onPress={() => onTake(cell)}
                style={styles.piece}
              >
                <View style={[styles.picture, other && styles.square, now && styles.now]}>
                  <SmallPicture of={pictures} at={i} />
                </View>
                <Text style={[type.figure, styles.figure]} numberOfLines={1}>
                  {textOf(cell)}
                </Text>
              </Pressable>
            );
          })}
        </View>
      ))}
      <ScrollView horizontal showsHorizontalScrollIndicator={false}>
        <View style={styles.row}>
          {!other && (
            <Choice
              label={say.channel.steps}
              options={COUNTS.map((n) => ({ id: String(n), label: say.channel.nSteps(n) }))}
              value={String(count)}
              onChoose={(n) => setCount(Number(n) as (typeof COUNTS)[number])}
            />
          )}
          {others.length > 0 && (
            <Choice
              label={say.channel.gridWith}
              options={[
                { id: '', label: say.channel.alone },
                ...others.map(({ name, label }) => ({ id: name, label: say.channel.withLabel(inSentence(label)) })),
              ]}
              value={second ?? ''}
              onChoose={(name) => setSecond(name || undefined)}
            />
          )}
          <Button label={say.channel.onOtherPhotos} onPress={() => void onOthers()} />
        </View>
      </ScrollView>
    </Recede>
  );
}

const styles = StyleSheet.create({
  strip: { paddingHorizontal: space.m, paddingVertical: 6, gap: 6, backgroundColor: colour.well, borderRadius: radius.m, marginHorizontal: 6 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  grow: { flex: 1 },
  row: { flexDirection: 'row', gap: 2 },
  piece: { flex: 1, gap: 4 },
  picture: { height: 128, borderBottomWidth: 3, borderBottomColor: colour.well },
  square: { height: 66 },
  now: { borderBottomColor: colour.signal },
  figure: { textAlign: 'center', fontSize: 11 },
});
