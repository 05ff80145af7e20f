import { useEffect, useMemo, useState } from 'react';
import { StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import type { Photo } from '@bexlen/api';
import Columns from 'lucide-react-native/icons/columns-2';
import Grid from 'lucide-react-native/icons/layout-grid';
import X from 'lucide-react-native/icons/x';
import { putOn, type Stack, type Stand } from '@bexlen/core';
import { Button, Choice, IconButton } from '../controls/Button';
import { commit, inForce, notify, show, useBench } from '../state/bench';
import { colour, LOW, type, WIDE } from '../theme/tokens';
import { openBook, useBook, type Shown } from './book';
import { LookBar } from './LookBar';
import { LookGrid } from './LookGrid';
import { Lessons } from '../lessons/Lessons';
import { useStand } from './stand';
import { closeLooks, useLooksPanel } from './panel';
import { TakeForm } from './TakeForm';
import { sentenceOf } from '../state/server';
import { layOutVariants, looksOver } from './variants';
import { besides } from '../viewer/beside';
import { newId } from '../state/ids';
import { say, told } from '../words';

/** Looks that stand side by side at most. */
const MOST = 4;

/** The stack on the bench with a look on it. */
function withLook({ look }: Shown, strength: number, from: Stand | undefined): Stack {
  return putOn(inForce(useBench.getState().history), look, { where: useBook.getState().where, strength, from, newId });
}

interface ChooserProps {
  /** Photos that looks are laid out over, as a sheet. */
  readonly photos: readonly Photo[];
  readonly act: string;
  readonly busy?: boolean;
  /** The look is put on for good. */
  readonly onPut: (shown: Shown, strength: number, stack: Stack) => void;
}

/** The lookbook over the photo on the bench: what is chosen is seen at once, at its strength, and put on by the button. */
export function LookChooser({ photos, act, busy = false, onPut }: ChooserProps) {
  const history = useBench((state) => state.history);
  const where = useBook((book) => book.where);
  const fit = useBook((book) => book.fit);
  const from = useStand(where, fit);
  const looks = useBook((book) => book.looks);
  const { width, height } = useWindowDimensions();
  const narrow = width < WIDE;
  const low = height < LOW;
  const compare = (): void => (setComparing(true), setChosen([]));
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [comparing, setComparing] = useState(false);
  const [strength, setStrength] = useState(1);
  useEffect(() => void openBook(), []);
  useEffect(() => () => useBench.setState({ draft: undefined }), []);
  const byId = (id: string | undefined): Shown | undefined => looks.find((it) => it.id === id);
  const one = comparing ? undefined : byId(chosen[0]);
  const key = useMemo(() => ({ history, where, from }), [history, where, from]);
  useEffect(() => {
    if (!one) return useBench.setState({ draft: undefined });
    try {
      show(withLook(one, strength, from));
    } catch (error) {
      notify(told((error as Error).message));
    }
  }, [one, strength, from, key]);
  const choose = ({ id }: Shown): void => {
    if (!comparing) {
      setStrength(1);
      return setChosen(chosen[0] === id ? [] : [id]);
    }
    setChosen(chosen.includes(id) ? chosen.filter((it) => it !== id) : [...chosen, id].slice(-MOST));
  };
  const sideBySide = (): void =>
    besides(
      chosen.flatMap((id) => {
        const it = byId(id);
        return it ? [{ name: it.look.name, stack: withLook(it, 1, from) }] : [];
      }),
    );
  const sheet = async (): Promise<void> => {
    const shown = chosen.flatMap((id) => byId(id) ?? []);
    try {
      layOutVariants(shown.length === 1 ? (shown[0]?.look.name ?? '') : say.looks.looks, await looksOver(photos, shown));
    } catch (error) {
      notify(sentenceOf(error));
    }
  };
  return (
    <View style={styles.fill}>
      <LookGrid
        narrow={narrow}
        low={low}
        beside={low && !comparing && <IconButton icon={Columns} label={say.looks.compareLooks} onPress={compare} />}
        chosen={chosen}
        onChoose={choose}
        withLook={(it) => safely(() => withLook(it, 1, from))}
        changed={key}
      />
      {comparing ? (
        <View style={styles.compare}>
          <Text style={[type.small, styles.fill]}>{chosen.length === 0 ? say.looks.chooseUpToFour : say.looks.countChosen(chosen.length)}</Text>
          <Button icon={Grid} label={say.looks.sheet} off={chosen.length === 0} onPress={() => void sheet()} />
          <Button label={say.looks.leaveIt} onPress={() => (setComparing(false), setChosen([]))} />
          <Button strong label={say.looks.sideBySide} off={chosen.length < 2} onPress={sideBySide} />
        </View>
      ) : one ? (
        <LookBar
          shown={one}
          stand={from}
          strength={strength}
          onStrength={setStrength}
          act={act}
          busy={busy}
          onPut={() => onPut(one, strength, withLook(one, strength, from))}
          onMore={() => useBook.setState({ more: one.id })}
        />
      ) : (
        !low && (
          <View style={styles.compare}>
            <Text style={[type.small, styles.fill]}>{say.looks.tapALookToSeeIt}</Text>
            <Button icon={Columns} label={say.looks.compare} onPress={compare} />
          </View>
        )
      )}
    </View>
  );
}

/** A look that does not fit beside what is there is shown as what is there. */
function safely(make: () => Stack): Stack {
  try {
    return make();
  } catch {
    return inForce(useBench.getState().history);
  }
}

const LEAVES = [
  { id: 'put', label: say.looks.putOn },
  { id: 'take', label: say.looks.take },
  { id: 'lessons', label: say.looks.lessons },
] as const;

/** Looks on the bench: put one on the open version, or take one from it. */
export function LooksOnBench() {
  const { leaf = 'put', only } = useLooksPanel(useShallow(({ leaf, only }) => ({ leaf, only })));
  const photo = useBench((state) => state.photo);
  const put = ({ look }: Shown, strength: number, stack: Stack): void => {
    commit(stack, say.looks.putOnNameWhat(look.name, strength < 1 ? `, ${Math.round(strength * 100)} %` : ''));
    closeLooks();
  };
  return (
    <View style={styles.fill}>
      <View style={styles.head}>
        <Text style={[type.title, styles.title]}>{say.looks.looks}</Text>
        <Choice label={say.looks.looks} options={LEAVES} value={leaf} onChoose={(to) => useLooksPanel.setState({ leaf: to })} />
        <IconButton icon={X} label={say.looks.closeTheLooks} onPress={closeLooks} />
      </View>
      {leaf === 'put' ? (
        <LookChooser photos={photo ? [photo] : []} act={say.looks.putOn} onPut={put} />
      ) : leaf === 'lessons' ? (
        <Lessons onBegin={closeLooks} />
      ) : (
        <TakeForm key={only} only={only} onKept={closeLooks} />
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minHeight: 0, minWidth: 0 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingLeft: 14, paddingRight: 4, paddingBottom: 6 },
  title: { flex: 1 },
  compare: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    paddingHorizontal: 12,
    paddingVertical: 8,
    borderTopWidth: 1,
    borderTopColor: colour.well,
  },
});
